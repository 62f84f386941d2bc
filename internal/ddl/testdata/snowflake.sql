-- Saltmarsh Ferries: the reporting store.
!set variable_substitution=true
USE ROLE loader;
PUT file:///tmp/sailings.csv @stage;
CREATE OR REPLACE TABLE sailings (id NUMBER(10), berth VARCHAR DEFAULT 'a, (b)');

-- want: procedure report.LOAD_DAY(day in DATE:date, source in VARCHAR:string = 'desk, (main)', limit_to in NUMBER(5,0):decimal(5) = NULL, loaded out INT:decimal) returns VARCHAR:string
CREATE OR REPLACE PROCEDURE report.LOAD_DAY(day DATE, source VARCHAR DEFAULT 'desk, (main)', limit_to NUMBER(5,0) DEFAULT NULL, loaded OUT INT)
COPY GRANTS
RETURNS VARCHAR NOT NULL
LANGUAGE SQL
COMMENT = 'CREATE PROCEDURE; not me'
EXECUTE AS CALLER
AS
$$
DECLARE
  n INTEGER DEFAULT 0;
  rs RESULTSET;
BEGIN
  LET x := 1; // a comment; with CREATE
  SELECT COUNT(*) INTO :n FROM sailings;
  IF (n > 0) THEN
    loaded := n;
    RETURN 'done';
  END IF;
  CALL other(:n);
  EXECUTE IMMEDIATE 'SELECT 1';
  RETURN 'nothing';
EXCEPTION
  WHEN OTHER THEN RETURN 'failed';
END;
$$;

-- want: procedure by_tide(FROM_DAY in TIMESTAMP_NTZ(3):timestamp(3), until in TIMESTAMP_TZ:timestamptz) returns set [id depth]
CREATE PROCEDURE by_tide(FROM_DAY TIMESTAMP_NTZ(3), until TIMESTAMP_TZ) RETURNS TABLE (id NUMBER, depth FLOAT) LANGUAGE SQL AS
DECLARE
  rs RESULTSET;
BEGIN
  rs := (SELECT id, 1.5 AS depth FROM sailings);
  FOR r IN rs DO
    CASE WHEN r.id = 1 THEN NULL; ELSE NULL; END CASE;
  END FOR;
  RETURN TABLE(rs);
END;
-- want: procedure js_count(TABLE_NAME in STRING:string, keep in BOOLEAN:bool) returns FLOAT:float64 language javascript
CREATE OR REPLACE SECURE PROCEDURE js_count(TABLE_NAME STRING, "keep" BOOLEAN) RETURNS FLOAT LANGUAGE JAVASCRIPT STRICT EXECUTE AS OWNER AS
'
  var s = snowflake.createStatement({sqlText: "SELECT COUNT(*) FROM " + TABLE_NAME + " WHERE it = ''x''"});
  return keep ? 1 : 2;
';
-- want: function py_clean(note in VARCHAR(200):string(200)) returns VARCHAR:string language python
CREATE OR REPLACE FUNCTION py_clean(note VARCHAR(200)) RETURNS VARCHAR LANGUAGE PYTHON RUNTIME_VERSION = '3.11' PACKAGES = ('numpy', 'pandas==2.0')
IMPORTS = ('@stage/a.py') HANDLER = 'clean' AS $$
def clean(note):
    return note.strip()  # CREATE FUNCTION; $
$$;
-- want: function area(r in FLOAT:float64) returns FLOAT:float64
CREATE FUNCTION area(r FLOAT) RETURNS FLOAT AS $$ pi() * r * r $$;
-- want: function area(r in NUMBER:decimal, unit in VARCHAR:string) returns NUMBER:decimal
CREATE FUNCTION area(r NUMBER, unit VARCHAR) RETURNS NUMBER MEMOIZABLE AS 'r';
-- want: function rows_of(v in VARIANT:any, o in OBJECT:json, a in ARRAY:array, t in ARRAY(NUMBER):array, m in MAP(VARCHAR, NUMBER):json, e in VECTOR(FLOAT, 256):array(256), g in GEOGRAPHY:spatial, b in BINARY(16):bytes(16)) returns set [x]
CREATE FUNCTION rows_of(v VARIANT, o OBJECT, a ARRAY, t ARRAY(NUMBER), m MAP(VARCHAR, NUMBER), e VECTOR(FLOAT, 256), g GEOGRAPHY, b BINARY(16)) RETURNS TABLE (x VARCHAR) AS $$ select 'x' $$;
-- want: function remote_price(deck in VARCHAR) returns VARIANT language external
CREATE EXTERNAL FUNCTION remote_price(deck VARCHAR) RETURNS VARIANT API_INTEGRATION = ferry HEADERS = ('x' = 'y;z') AS 'https://example.test/price';
-- want: procedure {{ schema }}.templated() returns VARCHAR
CREATE PROCEDURE &{db}.{{ schema }}.templated() RETURNS VARCHAR LANGUAGE SQL AS 'BEGIN RETURN ''a;b''; END';
CREATE AGGREGATE FUNCTION total(x NUMBER) RETURNS NUMBER LANGUAGE PYTHON RUNTIME_VERSION = '3.11' HANDLER = 'h' AS $$ $$;
WITH one_off AS PROCEDURE (a NUMBER) RETURNS VARCHAR LANGUAGE SQL AS $$ BEGIN RETURN 'x'; END; $$ CALL one_off(1);
-- want: procedure with_inner(a in INT) returns INT language scala
CREATE PROCEDURE with_inner(a INT) RETURNS INT LANGUAGE SCALA RUNTIME_VERSION='2.12' PACKAGES=('com.snowflake:snowpark:latest') HANDLER='X.run' AS $$
object X { def run(s: Session, a: Int): Int = { "CREATE PROCEDURE no() ; $" ; 1 } }
$$;
CREATE PROCEDURE renamed(a NUMBER) RETURNS VARCHAR LANGUAGE SQL AS 'BEGIN RETURN 1; END';
ALTER PROCEDURE IF EXISTS renamed(NUMBER) RENAME TO office.settled;
-- want: procedure office.settled(a in NUMBER) returns VARCHAR
CREATE PROCEDURE gone(a NUMBER) RETURNS VARCHAR LANGUAGE SQL AS 'BEGIN RETURN 1; END';
CREATE PROCEDURE gone(a VARCHAR) RETURNS VARCHAR LANGUAGE SQL AS 'BEGIN RETURN 1; END';
DROP PROCEDURE gone(NUMBER);
-- want: procedure gone(a in VARCHAR) returns VARCHAR
BEGIN;
INSERT INTO sailings VALUES (1, 'CREATE');
COMMIT;
EXECUTE IMMEDIATE $$
BEGIN
  CREATE PROCEDURE not_me() RETURNS INT LANGUAGE SQL AS 'x';
END;
$$;
-- problem: the header of half cannot be read
CREATE PROCEDURE half(a NUMBER b NUMBER) RETURNS INT LANGUAGE SQL AS 'x';
-- want: procedure last_one() returns set []
CREATE PROCEDURE last_one() RETURNS TABLE () LANGUAGE SQL AS $$ BEGIN RETURN TABLE(x); END $$
