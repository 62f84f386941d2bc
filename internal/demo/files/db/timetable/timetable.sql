-- The timetable, as its backup writes it.
DELIMITER ;;

/*!50003 DROP PROCEDURE IF EXISTS `list_sailings` */;;
/*!50003 CREATE*/ /*!50020 DEFINER=`harbour`@`localhost`*/ /*!50003 PROCEDURE `list_sailings`(IN p_day DATE, IN p_route CHAR(3))
    READS SQL DATA
    COMMENT 'Sailings of a day; a route of NULL means all'
BEGIN
  SELECT s.sailing_id, s.route, s.departs_at, s.arrives_at, v.name AS vessel
  FROM sailings s JOIN vessels v USING (vessel_id)
  WHERE DATE(s.departs_at) = p_day AND (p_route IS NULL OR s.route = p_route)
  ORDER BY s.departs_at;
END */;;

CREATE PROCEDURE next_tide(IN p_port VARCHAR(40), IN p_after DATETIME, OUT p_high DATETIME, OUT p_height_cm SMALLINT UNSIGNED)
BEGIN
  SELECT t.high_at, t.height_cm INTO p_high, p_height_cm
  FROM tides t
  WHERE t.port = p_port AND t.high_at > p_after
  ORDER BY t.high_at
  LIMIT 1;
END;;

CREATE PROCEDURE shift_sailing(IN p_sailing_id INT UNSIGNED, INOUT p_minutes INT)
    MODIFIES SQL DATA
BEGIN
  DECLARE v_high DATETIME;
  DECLARE v_height SMALLINT UNSIGNED;
  DECLARE v_leaves DATETIME;

  SELECT departs_at + INTERVAL p_minutes MINUTE INTO v_leaves FROM sailings WHERE sailing_id = p_sailing_id;
  CALL next_tide('Saltmarsh', v_leaves, v_high, v_height);
  IF v_height < 180 THEN
    SET p_minutes = p_minutes + 45;
  END IF;
  UPDATE sailings SET departs_at = departs_at + INTERVAL p_minutes MINUTE WHERE sailing_id = p_sailing_id;
END;;

CREATE PROCEDURE cancel_sailing(IN p_sailing_id INT UNSIGNED, IN p_reason ENUM('weather','tide','crew (sick)','other'), OUT p_passes INT)
    SQL SECURITY INVOKER
BEGIN
  UPDATE sailings SET cancelled = p_reason WHERE sailing_id = p_sailing_id;
  SELECT COUNT(*) INTO p_passes FROM booked WHERE sailing_id = p_sailing_id;
END;;

CREATE FUNCTION harbour_dues(p_length_m DECIMAL(6,2), p_nights TINYINT UNSIGNED) RETURNS DECIMAL(10,2)
    DETERMINISTIC
BEGIN
  RETURN p_length_m * 1.85 * p_nights;
END;;

DELIMITER ;
