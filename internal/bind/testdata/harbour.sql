DELIMITER $$
CREATE TABLE tides (port VARCHAR(20), high_at DATETIME, height_cm INT)$$
INSERT INTO tides VALUES ('Saltmarsh', '2026-05-04 06:12:00', 412), ('Saltmarsh', '2026-05-04 18:40:00', 398), ('Skerry', '2026-05-04 07:00:00', 120)$$

CREATE PROCEDURE echo_all(
  IN p_small SMALLINT, IN p_big BIGINT UNSIGNED, IN p_fare DECIMAL(30,10), IN p_name VARCHAR(80) CHARACTER SET utf8mb4, IN p_day DATE,
  IN p_at DATETIME(6), IN p_photo BLOB, IN p_ratio DOUBLE, IN p_open BOOLEAN,
  OUT o_small SMALLINT, OUT o_big BIGINT UNSIGNED, OUT o_fare DECIMAL(30,10), OUT o_name VARCHAR(80) CHARACTER SET utf8mb4, OUT o_day DATE,
  OUT o_at DATETIME(6), OUT o_photo BLOB, OUT o_ratio DOUBLE, OUT o_open BOOLEAN)
BEGIN
  SET o_small = p_small, o_big = p_big, o_fare = p_fare, o_name = p_name, o_day = p_day, o_at = p_at, o_photo = p_photo, o_ratio = p_ratio, o_open = p_open;
END$$

CREATE PROCEDURE list_tides(IN p_port VARCHAR(20), IN p_summary BOOLEAN, OUT p_count INT)
BEGIN
  SELECT COUNT(*) INTO p_count FROM tides WHERE port = p_port;
  SELECT high_at, height_cm FROM tides WHERE port = p_port ORDER BY high_at;
  IF p_summary THEN
    SELECT MAX(height_cm) AS highest FROM tides WHERE port = p_port;
  END IF;
END$$

CREATE PROCEDURE shift(INOUT p_minutes INT, IN p_by INT)
  SET p_minutes = p_minutes + p_by$$

CREATE PROCEDURE add_tide(IN p_port VARCHAR(20), IN p_height INT)
  INSERT INTO tides VALUES (p_port, '2026-05-05 06:00:00', p_height)$$

CREATE PROCEDURE refuse(IN p_why VARCHAR(40))
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = p_why$$

CREATE FUNCTION dues(p_length DECIMAL(6,2), p_nights TINYINT UNSIGNED) RETURNS DECIMAL(10,2) DETERMINISTIC
  RETURN p_length * 1.85 * p_nights$$
DELIMITER ;
