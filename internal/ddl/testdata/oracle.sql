REM Saltmarsh Ferries: the harbour office. It's read as SQL*Plus reads it.
SET DEFINE ON
SET SERVEROUTPUT ON SIZE UNLIMITED
PROMPT Creating the harbour's packages; don't stop
WHENEVER SQLERROR EXIT FAILURE
@@types.sql
@setup.sql one two

CREATE TABLE berths (
  berth_no    NUMBER(6) NOT NULL,
  name        VARCHAR2(40 CHAR) DEFAULT 'unnamed, (so far)' CHECK (name <> ')'),
  "Depth m"   NUMBER(5,2),
  opened      DATE DEFAULT SYSDATE,
  CONSTRAINT berths_pk PRIMARY KEY (berth_no)
);

CREATE OR REPLACE TYPE berth_list AS TABLE OF NUMBER(6);
/
CREATE OR REPLACE TYPE tide_window FORCE AUTHID DEFINER AS OBJECT (
  opens   TIMESTAMP(3) WITH TIME ZONE,
  closes  TIMESTAMP WITH LOCAL TIME ZONE,
  CONSTRUCTOR FUNCTION tide_window(SELF IN OUT NOCOPY tide_window, p_opens DATE) RETURN SELF AS RESULT,
  MEMBER FUNCTION minutes RETURN NUMBER,
  MEMBER PROCEDURE shift(SELF IN OUT tide_window, p_minutes IN PLS_INTEGER DEFAULT 15),
  STATIC FUNCTION of_day(p_day DATE) RETURN tide_window,
  MAP MEMBER FUNCTION sort_key RETURN NUMBER,
  PRAGMA RESTRICT_REFERENCES(minutes, WNDS)
) NOT FINAL;
/
CREATE OR REPLACE TYPE BODY tide_window AS
  MEMBER FUNCTION minutes RETURN NUMBER IS BEGIN RETURN (CAST(closes AS DATE) - CAST(opens AS DATE)) * 1440; END;
  MEMBER FUNCTION hidden RETURN NUMBER IS BEGIN RETURN 1; END hidden;
END;
/
-- want: function tide_window.tide_window(SELF inout tide_window:record, p_opens in DATE:timestamp) returns SELF AS RESULT:record
-- want: function tide_window.minutes() returns NUMBER:decimal
-- want: procedure tide_window.shift(SELF inout tide_window:record, p_minutes in PLS_INTEGER:int32 = 15)
-- want: function tide_window.of_day(p_day in DATE:timestamp) returns tide_window:record
-- want: function tide_window.sort_key() returns NUMBER:decimal

-- want: procedure assign_berth(p_vessel in NUMBER, p_berth out berths.berth_no%TYPE, p_note in VARCHAR2 = 'none, (yet)', p_row inout berths%ROWTYPE)
CREATE OR REPLACE EDITIONABLE PROCEDURE assign_berth (
  p_vessel  IN  NUMBER,            -- the vessel, not its owner
  p_berth   OUT NOCOPY berths.berth_no%TYPE,
  p_note    VARCHAR2 := 'none, (yet)',
  p_row     IN OUT berths%ROWTYPE
) AUTHID CURRENT_USER
IS
  l_text VARCHAR2(200) := q'[it's CREATE PROCEDURE not_me IS BEGIN END;
/ ]';
  CURSOR c_free (p_from DATE) IS SELECT berth_no FROM berths WHERE opened >= p_from;
  PROCEDURE local_one (x NUMBER) IS
    FUNCTION deeper RETURN NUMBER IS BEGIN RETURN 1; END deeper;
  BEGIN
    NULL;
  END local_one;
BEGIN
  <<outer_loop>>
  FOR r IN c_free(SYSDATE) LOOP
    IF r.berth_no > 4 THEN p_berth := r.berth_no; EXIT outer_loop; END IF;
  END LOOP outer_loop;
  CASE p_vessel WHEN 1 THEN NULL; ELSE local_one(2); END CASE;
  /* a slash inside
/
  of a comment */
  BEGIN
    SELECT berth_no INTO p_berth FROM berths WHERE ROWNUM = 1;
  EXCEPTION
    WHEN NO_DATA_FOUND THEN RAISE_APPLICATION_ERROR(-20001, 'none');
  END;
END assign_berth;
/
SHOW ERRORS

-- want: function fare_for(p_deck in VARCHAR2:string, p_length in NUMBER:decimal = TO_NUMBER('4,5', '9D9', 'NLS_NUMERIC_CHARACTERS='',.''')) returns NUMBER:decimal
CREATE FUNCTION fare_for(p_deck VARCHAR2, p_length NUMBER DEFAULT TO_NUMBER('4,5', '9D9', 'NLS_NUMERIC_CHARACTERS='',.'''))
RETURN NUMBER DETERMINISTIC PARALLEL_ENABLE RESULT_CACHE RELIES_ON (berths) AS
BEGIN
  RETURN CASE p_deck WHEN 'car' THEN 12 ELSE 30 END;
END;
/

-- want: function free_berths() returns berth_list:array set
CREATE OR REPLACE FUNCTION free_berths RETURN berth_list PIPELINED IS
BEGIN
  FOR i IN 1 .. 3 LOOP PIPE ROW (i); END LOOP;
  RETURN;
END;
/

-- want: procedure list_berths(p_harbour in VARCHAR2, p_rows out SYS_REFCURSOR) rows [berth_no label]
CREATE OR REPLACE PROCEDURE list_berths(p_harbour IN VARCHAR2, p_rows OUT SYS_REFCURSOR) AS
BEGIN
  OPEN p_rows FOR SELECT b.berth_no, b.name AS label FROM berths b WHERE b.name LIKE p_harbour;
END list_berths;
/

-- want: procedure send_fax(p_to in VARCHAR2, p_done out NUMBER) language java
CREATE OR REPLACE PROCEDURE send_fax(p_to VARCHAR2, p_done OUT NUMBER)
AS LANGUAGE JAVA NAME 'Fax.send(java.lang.String, int[])';
/
-- want: function crc(p_data in RAW) returns BINARY_INTEGER language c
CREATE OR REPLACE FUNCTION crc(p_data RAW) RETURN BINARY_INTEGER AS EXTERNAL LIBRARY crc_lib NAME "crc32" LANGUAGE C;
/
CREATE OR REPLACE FUNCTION longest(p VARCHAR2) RETURN VARCHAR2 AGGREGATE USING longest_impl;
/

-- want: procedure &owner.audit_sailing(p_id in NUMBER)
CREATE OR REPLACE PROCEDURE &owner..audit_sailing (p_id NUMBER) IS BEGIN NULL; END;
/
-- want: procedure Harbour.Open Gate(Gate No in NUMBER:decimal)
CREATE PROCEDURE "Harbour"."Open Gate" ("Gate No" IN NUMBER) AS BEGIN NULL; END;
/

-- The body comes before the specification here.
CREATE OR REPLACE PACKAGE BODY harbour.dues AS
  TYPE secret_t IS TABLE OF VARCHAR2(10);
  g_count NUMBER := 0;
  PROCEDURE secret(p_x NUMBER);               -- declared ahead
  PROCEDURE secret(p_x NUMBER) IS BEGIN g_count := g_count + p_x; END;
  PROCEDURE charge(p_sailing IN NUMBER, p_amount OUT NUMBER, p_currency VARCHAR2) IS
  BEGIN
    secret(1);
    EXECUTE IMMEDIATE 'SELECT 1 FROM dual' INTO p_amount;
  END charge;
  PROCEDURE charge(p_sailing IN NUMBER) IS BEGIN NULL; END;
  FUNCTION rate(p_kind kind_t) RETURN money_t IS BEGIN RETURN 1; END;
  FUNCTION rows_of(p_sailing NUMBER) RETURN dues_t PIPELINED IS BEGIN RETURN; END;
  PROCEDURE report(p_out IN OUT dues_cur) IS BEGIN OPEN p_out FOR SELECT 1 AS one, 'x' AS two FROM dual; END;
BEGIN
  g_count := 1;
END dues;
/
CREATE OR REPLACE PACKAGE harbour.dues AUTHID DEFINER ACCESSIBLE BY (PACKAGE office) AS
  SUBTYPE kind_t IS VARCHAR2(3) NOT NULL;
  SUBTYPE money_t IS NUMBER(9,2);
  TYPE due_r IS RECORD (sailing NUMBER(10), amount money_t := 0, since DATE);
  TYPE dues_t IS TABLE OF due_r INDEX BY PLS_INTEGER;
  TYPE dues_cur IS REF CURSOR RETURN due_r;
  TYPE names_t IS VARRAY(20) OF VARCHAR2(30);
  c_standard CONSTANT money_t := 12.50;
  e_refused EXCEPTION;
  PRAGMA EXCEPTION_INIT(e_refused, -20002);
  CURSOR open_dues IS SELECT * FROM berths;
  PROCEDURE charge(p_sailing IN NUMBER, p_amount OUT NUMBER, p_currency VARCHAR2 DEFAULT 'EUR');
  PROCEDURE charge(p_sailing IN NUMBER);
  FUNCTION rate(p_kind kind_t) RETURN money_t;
  FUNCTION rows_of(p_sailing NUMBER) RETURN dues_t PIPELINED;
  PROCEDURE report(p_out IN OUT dues_cur);
  PROCEDURE name_all(p_names IN names_t, p_like c_standard%TYPE, p_row open_dues%ROWTYPE);
  $IF $$with_refunds $THEN
  PROCEDURE refund(p_sailing NUMBER);
  $ELSIF DBMS_DB_VERSION.VERSION >= 12 AND NOT DBMS_DB_VERSION.VER_LE_11 $THEN
  PROCEDURE refund(p_sailing NUMBER, p_reason CLOB DEFAULT EMPTY_CLOB());
  $ELSE
  PROCEDURE refund;
  $END
  PROCEDURE broken(p_x IN );
  PROCEDURE sound;
END dues;
/
-- want: procedure harbour.dues.charge(p_sailing in NUMBER:decimal, p_amount out NUMBER:decimal, p_currency in VARCHAR2:string = 'EUR')
-- want: procedure harbour.dues.charge(p_sailing in NUMBER:decimal)
-- want: function harbour.dues.rate(p_kind in kind_t:string(3)) returns money_t:decimal
-- want: function harbour.dues.rows_of(p_sailing in NUMBER:decimal) returns dues_t:array set
-- want: procedure harbour.dues.report(p_out inout dues_cur:cursor) rows [one two]
-- want: procedure harbour.dues.name_all(p_names in names_t:array(20), p_like in c_standard%TYPE:decimal, p_row in open_dues%ROWTYPE:anchored)
-- want: procedure harbour.dues.refund(p_sailing in NUMBER:decimal, p_reason in CLOB:string = EMPTY_CLOB())
-- problem: the header of harbour.dues.broken cannot be read
-- want: procedure harbour.dues.sound()

-- A body whose specification is not here lists its members.
CREATE OR REPLACE PACKAGE BODY crew AS
  FUNCTION on_board(p_sailing NUMBER) RETURN NUMBER IS
    l NUMBER;
  BEGIN
    SELECT COUNT(*) INTO l FROM crew_roster WHERE sailing = p_sailing;
    RETURN l;
  END;
END;
/
-- want: function crew.on_board(p_sailing in NUMBER) returns NUMBER

-- problem: sealed is wrapped
CREATE OR REPLACE PROCEDURE sealed wrapped
a000000
1
abcd
/* don't */ CREATE PROCEDURE nothing
/
-- want: procedure sealed()

CREATE OR REPLACE PACKAGE pilots IS
  PROCEDURE call_out(p_id NUMBER);
END;
/
CREATE OR REPLACE PACKAGE BODY pilots wrapped
a000000
ff
/
-- want: procedure pilots.call_out(p_id in NUMBER)
-- problem: this package is wrapped
CREATE OR REPLACE PACKAGE vault wrapped
a000000
ff
/

CREATE OR REPLACE PROCEDURE gone IS BEGIN NULL; END;
/
DROP PROCEDURE gone;
CREATE OR REPLACE TRIGGER berths_bi BEFORE INSERT ON berths FOR EACH ROW
BEGIN
  :NEW.berth_no := 1;
END;
/
DECLARE
  l NUMBER;
BEGIN
  assign_berth(1, l);
END;
/
-- Without the slash between them.
-- want: procedure first_of_two()
CREATE PROCEDURE first_of_two IS BEGIN NULL; END first_of_two;
-- want: procedure second_of_two(p in NUMBER = 1)
CREATE PROCEDURE second_of_two(p NUMBER := 1) IS BEGIN NULL; END;
EXIT
