-- Each line "want:" tells what the file declares, in order; "problem:" what could not be read.
USE timetable;
SET @old = @@sql_mode;
DELIMITER ;;
-- want: procedure list_tides(p_day in DATE:date, p_n out INT(11) unsigned zerofill:uint32, e inout ENUM('a,b','c)') CHARACTER SET utf8mb4:string) rows [message | begin end COUNT(*) h]
/*!50003 CREATE*/ /*!50020 DEFINER=`root`@`localhost`*/ /*!50003 PROCEDURE `list_tides`(IN p_day DATE, OUT p_n INT(11) unsigned zerofill, INOUT e ENUM('a,b','c)') CHARACTER SET utf8mb4)
    READS SQL DATA
    COMMENT 'it''s; all'
BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION, NOT FOUND, SQLSTATE VALUE '23000' SELECT 'err' AS message;
  SELECT begin, t.`end`, COUNT(*), height h FROM tides t WHERE d = p_day;
  IF p_day IS NULL THEN SET p_n = 0; ELSE SELECT COUNT(*) INTO p_n FROM tides; END IF;
  CASE p_n WHEN 1 THEN CALL other(p_n, 5); ELSE BEGIN END; END CASE;
END */;;
/*!99999 CREATE PROCEDURE of_a_server_to_come() SELECT 1 */;;
DELIMITER ;
-- want: function dues(a in varchar(10) character set binary:bytes(10)) returns decimal(10,2):decimal
create function if not exists dues(a varchar(10) character set binary) returns decimal(10,2) deterministic no sql sql security invoker return a * case when 1 then 2 end;
-- want: procedure no_delimiter() rows [1]
CREATE PROCEDURE no_delimiter() begin if 1 then select 1; end if; repeat set @x = repeat('x', 3); until @x end repeat; outer_one: while 1 do leave outer_one; end while outer_one; end;
-- want: function metaphon() returns STRING language c
CREATE FUNCTION metaphon RETURNS STRING SONAME 'udf_example.so';
-- want: function counted() returns INTEGER:int64 language c
CREATE FUNCTION counted RETURNS INTEGER SONAME "udf_example.so";
CREATE AGGREGATE FUNCTION avgcost RETURNS REAL SONAME 'udf_example.so';
-- want: procedure harbour.kinds(a in TINYINT(1):int8, b in BOOL:bool, c in BIT(8):bits(8), d in DATETIME(6):timestamp(6), e in TIMESTAMP:timestamptz, f in YEAR:int16, g in FLOAT(30):float64, h in FLOAT(7,4):float32, i in DOUBLE PRECISION:float64, j in MEDIUMINT UNSIGNED:uint32, k in NATIONAL VARCHAR(20):string(20)n, l in LONG VARBINARY:bytes, m in JSON:json, n in POINT:spatial, o in SERIAL:uint64, p in CHAR(3) BYTE:bytes(3), q in TEXT CHARSET latin1 COLLATE latin1_bin:string, r in DEC(5):decimal(5), s in SET('x','y;z'):string, t in TIME(3):time(3))
CREATE DEFINER = 'harbour'@'%' PROCEDURE harbour.kinds(a TINYINT(1), b BOOL, c BIT(8), d DATETIME(6), e TIMESTAMP, f YEAR, g FLOAT(30), h FLOAT(7,4), i DOUBLE PRECISION, j MEDIUMINT UNSIGNED, k NATIONAL VARCHAR(20), l LONG VARBINARY, m JSON, n POINT, o SERIAL, p CHAR(3) BYTE, q TEXT CHARSET latin1 COLLATE latin1_bin, r DEC(5), s SET('x','y;z'), t TIME(3))
SET @x = 1;
DELIMITER $$
-- want: procedure nested(in p_id in int, out p_out out varchar(20)) rows [a b | user name | n]
CREATE DEFINER=CURRENT_USER() PROCEDURE nested(IN `in p_id` int, OUT `out p_out` varchar(20))
LANGUAGE SQL NOT DETERMINISTIC MODIFIES SQL DATA
top: BEGIN
  DECLARE v INT DEFAULT (SELECT COUNT(*) FROM tides);
  DECLARE c CURSOR FOR SELECT a FROM t;
  each_one: LOOP
    FETCH c INTO `out p_out`;
    BEGIN
      IF v = 1 THEN ITERATE each_one; ELSEIF v = CASE v WHEN 2 THEN 2 ELSE 3 END THEN LEAVE top; END IF;
    END;
    SELECT a, b FROM t WHERE a = IF(v = 1, 2, 3);
  END LOOP each_one;
  (SELECT 1 `user name`) UNION (SELECT 2);
  WITH x AS (SELECT 1) SELECT n FROM x FOR UPDATE;
  SELECT 1 FROM t INTO @y;
  SELECT a INTO OUTFILE '/tmp/x' FROM t;
  INSERT INTO t SELECT 1;
  CREATE TEMPORARY TABLE k AS SELECT 1;
  PREPARE s FROM 'SELECT 1'; EXECUTE s;
END top$$
-- want: procedure one_statement() rows [? SHOW]
CREATE PROCEDURE one_statement() SHOW TABLES$$
CREATE TRIGGER tides_ai AFTER INSERT ON tides FOR EACH ROW BEGIN CALL nested(1, @x); SELECT 1 INTO @y; END$$
CREATE EVENT nightly ON SCHEDULE EVERY 1 DAY DO BEGIN CALL nested(1, @x); END$$
CREATE PROCEDURE gone() SELECT 1$$
DROP PROCEDURE IF EXISTS gone$$
-- problem: the header of broken cannot be read: "b" stands where a comma or the ) that closes the parameters should stand
CREATE PROCEDURE broken(IN a INT b INT) BEGIN SELECT 1; END$$
-- want: procedure after_the_broken_one(p in int)
CREATE PROCEDURE after_the_broken_one(p int) BEGIN SET @a = 1; END$$
DELIMITER ;
-- want: function js(a in int) returns int language javascript
CREATE FUNCTION js(a int) RETURNS int LANGUAGE JAVASCRIPT AS 'return a;';
