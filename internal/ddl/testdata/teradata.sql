/* Saltmarsh Ferries: the accounts. REPLACE MACRO in a comment; */
.LOGON tdpid/user,don't
.SET SEPARATOR ';'
DATABASE accounts;
CREATE MULTISET VOLATILE TABLE sailings, NO FALLBACK (id INTEGER, berth VARCHAR(10) DEFAULT 'a, (b)');
.IF ERRORCODE <> 0 THEN .QUIT 8

-- want: procedure accounts.post_due(sailing in BIGINT:int64, kind in CHAR(3) CHARACTER SET LATIN:string(3), amount out DECIMAL(9,2):decimal, note inout VARCHAR(200) CHARACTER SET UNICODE:string(200)) rows [id who]
REPLACE PROCEDURE accounts.post_due (IN sailing BIGINT, IN kind CHAR(3) CHARACTER SET LATIN NOT CASESPECIFIC UPPERCASE,
    OUT amount DECIMAL(9,2) FORMAT '--,---,--9.99' TITLE 'Amount; due', INOUT note VARCHAR(200) CHARACTER SET UNICODE)
DYNAMIC RESULT SETS 1
SQL SECURITY INVOKER
MAIN: BEGIN
    DECLARE c1 CURSOR WITH RETURN ONLY TO CALLER FOR SELECT id, berth AS who FROM sailings;
    DECLARE c2 CURSOR FOR SELECT 1;
    DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN SET note = 'CREATE MACRO; not me'; END;
    IF sailing > 0 THEN SET amount = 1; ELSE SET amount = 2; END IF;
    L1: WHILE amount < 5 DO SET amount = amount + 1; IF amount = 4 THEN LEAVE L1; END IF; END WHILE L1;
    CALL other(:sailing, :note);
    CALL DBC.SysExecSQL('DELETE FROM x');
    OPEN c1;
END MAIN;
-- want: macro accounts.due_list(sailing in INTEGER:int32, kind in CHAR(3):string(3) = 'car, (or) lorry') rows [id due | *]
REPLACE MACRO accounts.due_list (sailing INTEGER NOT NULL, kind CHAR(3) DEFAULT 'car, (or) lorry' TITLE 'Kind') AS (
  SELECT id, amount AS due FROM dues WHERE sailing = :sailing AND kind = :kind;
  UPDATE dues SET seen = 1;
  LOCKING ROW FOR ACCESS SEL * FROM dues;
);
-- want: macro plain() rows [one]
CREATE MACRO plain AS (SELECT 1 AS one;);
.COMPILE FILE = more.spl
-- want: function rate(kind in CHAR(3):string(3), hours in FLOAT:float64) returns DECIMAL(9,2):decimal specific rate_1
REPLACE FUNCTION rate (kind CHAR(3), hours FLOAT) RETURNS DECIMAL(9,2) LANGUAGE SQL CONTAINS SQL DETERMINISTIC SPECIFIC rate_1
COLLATION INVOKER INLINE TYPE 1 RETURN CASE WHEN kind = 'a' THEN 1 ELSE hours END;
-- want: function hashed( in VARBYTE(16):bytes(16),  in TD_ANYTYPE:any) returns BYTEINT:int8 language c
CREATE FUNCTION hashed (VARBYTE(16), TD_ANYTYPE) RETURNS BYTEINT LANGUAGE C NO SQL EXTERNAL NAME 'CS!x!x.c' PARAMETER STYLE TD_GENERAL;
CREATE FUNCTION sum_up (x FLOAT) RETURNS FLOAT CLASS AGGREGATE (64) LANGUAGE C NO SQL EXTERNAL NAME 'CS!y!y.c';
-- want: function split(text in VARCHAR(100)) returns set [part n] language c
CREATE FUNCTION split (text VARCHAR(100)) RETURNS TABLE (part VARCHAR(20), n INTEGER) LANGUAGE C NO SQL EXTERNAL NAME 'CS!z!z.c';
-- want: procedure types(a in PERIOD(DATE):period, b in INTERVAL DAY(2) TO SECOND(3):interval(3), c in TIMESTAMP(6) WITH TIME ZONE:timestamptz(6), d in NUMBER(10,2):decimal, e in JSON(1000):json, f in ST_GEOMETRY:spatial, g in LONG VARCHAR:string, h in TIME(0) WITH TIME ZONE:time)
CREATE PROCEDURE types (a PERIOD(DATE), b INTERVAL DAY(2) TO SECOND(3), c TIMESTAMP(6) WITH TIME ZONE, d NUMBER(10,2), e JSON(1000), f ST_GEOMETRY, g LONG VARCHAR, h TIME(0) WITH TIME ZONE)
BEGIN END;
-- want: procedure outside(a in INTEGER, b out VARCHAR(10)) language java
CREATE PROCEDURE outside (IN a INTEGER, OUT b VARCHAR(10)) LANGUAGE JAVA READS SQL DATA EXTERNAL NAME 'jar:Out.run' PARAMETER STYLE JAVA;
CREATE MACRO gone AS (SEL 1;);
DROP MACRO gone;
-- problem: the header of half cannot be read
REPLACE PROCEDURE half (IN a INTEGER, b) BEGIN END;
-- want: procedure last_one()
REPLACE PROCEDURE last_one () BEGIN END
