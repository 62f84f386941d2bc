-- The harbour office runs on Oracle: what a sailing owes the harbour.
CREATE OR REPLACE PACKAGE harbour.dues AUTHID DEFINER AS

  SUBTYPE money_t IS NUMBER(9,2);
  TYPE due_r IS RECORD (sailing_id NUMBER(10), amount money_t, since DATE);
  TYPE dues_t IS TABLE OF due_r INDEX BY PLS_INTEGER;

  -- Charges one sailing. The note tells why it was refused.
  PROCEDURE charge(
    p_sailing_id  IN  NUMBER,
    p_amount      OUT money_t,
    p_currency    IN  VARCHAR2 DEFAULT 'EUR',
    p_note        IN OUT NOCOPY VARCHAR2
  );

  -- The same for every sailing of a day.
  PROCEDURE charge(p_day IN DATE, p_charged OUT PLS_INTEGER);

  PROCEDURE open_dues(p_harbour IN VARCHAR2, p_rows OUT SYS_REFCURSOR);

  FUNCTION rate(p_length NUMBER, p_tide VARCHAR2 := 'high') RETURN money_t;

  FUNCTION dues_of(p_sailing_id NUMBER) RETURN dues_t PIPELINED;
END dues;
/
