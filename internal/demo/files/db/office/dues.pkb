CREATE OR REPLACE PACKAGE BODY harbour.dues AS

  g_factor NUMBER := 1;

  -- Not to be called from outside.
  PROCEDURE write_journal(p_text VARCHAR2) IS
  BEGIN
    INSERT INTO journal (written_at, text) VALUES (SYSDATE, p_text);
  END write_journal;

  PROCEDURE charge(p_sailing_id IN NUMBER, p_amount OUT money_t, p_currency IN VARCHAR2, p_note IN OUT NOCOPY VARCHAR2) IS
    l_length NUMBER;
  BEGIN
    SELECT length INTO l_length FROM sailings WHERE sailing_id = p_sailing_id;
    p_amount := rate(l_length) * g_factor;
    write_journal(q'[charged; it's done]');
  EXCEPTION
    WHEN NO_DATA_FOUND THEN
      p_amount := 0;
      p_note := 'no such sailing';
  END charge;

  PROCEDURE charge(p_day IN DATE, p_charged OUT PLS_INTEGER) IS
    l_amount money_t;
    l_note   VARCHAR2(200);
  BEGIN
    p_charged := 0;
    FOR s IN (SELECT sailing_id FROM sailings WHERE sailing_day = p_day) LOOP
      charge(s.sailing_id, l_amount, p_note => l_note);
      p_charged := p_charged + 1;
    END LOOP;
  END charge;

  PROCEDURE open_dues(p_harbour IN VARCHAR2, p_rows OUT SYS_REFCURSOR) IS
  BEGIN
    OPEN p_rows FOR
      SELECT d.sailing_id, d.amount, s.leaves AS leaves_at
      FROM dues_table d JOIN sailings s ON s.sailing_id = d.sailing_id
      WHERE s.harbour = p_harbour;
  END open_dues;

  FUNCTION rate(p_length NUMBER, p_tide VARCHAR2 := 'high') RETURN money_t IS
  BEGIN
    RETURN CASE p_tide WHEN 'high' THEN 1.2 ELSE 1 END * p_length;
  END rate;

  FUNCTION dues_of(p_sailing_id NUMBER) RETURN dues_t PIPELINED IS
  BEGIN
    RETURN;
  END dues_of;
END dues;
/
