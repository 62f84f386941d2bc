-- Saltmarsh Ferries: the moorings.
/*M!100100 SET @a = 1 */;
DELIMITER //
-- want: procedure moor(IN_1 in INT, boat inout VARCHAR(20), at_berth out TYPE OF berths.berth_no) rows [berth_no]
CREATE OR REPLACE DEFINER=`root`@`localhost` PROCEDURE moor(IN IN_1 INT, INOUT boat VARCHAR(20), OUT at_berth TYPE OF berths.berth_no)
  SQL SECURITY INVOKER COMMENT 'CREATE PROCEDURE; not me'
BEGIN
  FOR i IN 1..3 DO
    SET at_berth = i;
  END FOR;
  FOR r IN (SELECT berth_no FROM berths) DO SET boat = 'x'; END FOR;
  INSERT INTO berths VALUES (1) RETURNING berth_no;
END//
-- want: function depth_of(r in ROW(a INT, b DECIMAL(5,2)):record, row_of in ROW TYPE OF berths:record, addr in INET6:string, u in UUID:uuid) returns INT(5) UNSIGNED:uint32
CREATE FUNCTION IF NOT EXISTS depth_of(r ROW(a INT, b DECIMAL(5,2)), row_of ROW TYPE OF berths, addr INET6, u UUID) RETURNS INT(5) UNSIGNED
  RETURN 1//
CREATE AGGREGATE FUNCTION total(x INT) RETURNS INT BEGIN DECLARE s INT DEFAULT 0; LOOP FETCH GROUP NEXT ROW; END LOOP; RETURN s; END//
-- want: procedure with_default(a in INT = 5, b in VARCHAR(9) = CONCAT('x', ','))
CREATE PROCEDURE with_default(IN a INT DEFAULT 5, b VARCHAR(9) DEFAULT CONCAT('x', ',')) BEGIN END//
DELIMITER ;
CREATE TABLE berths (berth_no SMALLINT UNSIGNED, name VARCHAR(40) DEFAULT 'a, (b)');
SET sql_mode=ORACLE;
DELIMITER /
-- want: procedure harbour.clear_berth(p_berth in NUMBER(6):decimal(6), p_name out VARCHAR2(40):string(40), p_row inout berths%ROWTYPE:record, p_n out berths.berth_no%TYPE:uint16) rows [two]
CREATE OR REPLACE PROCEDURE harbour.clear_berth(p_berth NUMBER(6), p_name OUT VARCHAR2(40), p_row IN OUT berths%ROWTYPE, p_n OUT berths.berth_no%TYPE) AS
  l_count INT := 0;
  CURSOR c IS SELECT 1 FROM berths;
BEGIN
  p_name := 'x';
  IF p_berth > 1 THEN p_n := 2; ELSIF p_berth < 0 THEN RAISE_APPLICATION_ERROR(1, 'x'); END IF;
  SELECT 2 AS two;
EXCEPTION
  WHEN OTHERS THEN p_n := 3;
END;
/
-- want: function doubled(a in INT) returns INT
CREATE FUNCTION doubled(a IN INT) RETURN INT AS BEGIN RETURN a * 2; END;
/
-- want: procedure no_args()
CREATE PROCEDURE no_args AS BEGIN NULL; END;
/
CREATE OR REPLACE PACKAGE dues AS
  PROCEDURE charge(p INT, r OUT NUMBER(9,2));
  FUNCTION rate RETURN NUMBER;
END;
/
CREATE OR REPLACE PACKAGE BODY dues AS
  hidden_v INT := 1;
  PROCEDURE hidden(x INT) AS BEGIN NULL; END;
  PROCEDURE charge(p INT, r OUT NUMBER(9,2)) AS BEGIN SELECT 1 AS one; r := 2; END;
  FUNCTION rate RETURN NUMBER AS BEGIN RETURN 1; END;
BEGIN
  hidden_v := 2;
END;
/
-- want: procedure dues.charge(p in INT:int32, r out NUMBER(9,2):decimal) rows [one]
-- want: function dues.rate() returns NUMBER:decimal
CREATE PACKAGE gone AS PROCEDURE x; END;
/
DROP PACKAGE gone/
DELIMITER ;
SET sql_mode=DEFAULT;
-- problem: the header of half cannot be read
CREATE PROCEDURE half(a INT, OUT) SELECT 1;
-- want: procedure last_one(a in INT) rows [a]
CREATE PROCEDURE last_one(a INT) SELECT a;
