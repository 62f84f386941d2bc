DELIMITER $$

CREATE PROCEDURE roster_crew(IN p_sailing_id INT UNSIGNED, IN p_crew_id INT UNSIGNED, IN p_role VARCHAR(20), OUT p_outcome VARCHAR(100))
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23000'
    SET p_outcome = 'already on this roster';
  INSERT INTO rosters (sailing_id, crew_id, role) VALUES (p_sailing_id, p_crew_id, p_role);
  SET p_outcome = 'done';
END$$

CREATE PROCEDURE crew_of(IN p_sailing_id INT UNSIGNED)
  SELECT c.crew_id, c.full_name, r.role FROM rosters r JOIN crew c USING (crew_id) WHERE r.sailing_id = p_sailing_id$$

CREATE PROCEDURE copy_roster(IN p_from INT UNSIGNED, IN p_to INT UNSIGNED)
BEGIN
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE v_crew INT UNSIGNED;
  DECLARE v_role VARCHAR(20);
  DECLARE v_outcome VARCHAR(40);
  DECLARE c CURSOR FOR SELECT crew_id, role FROM rosters WHERE sailing_id = p_from;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  OPEN c;
  each_one: LOOP
    FETCH c INTO v_crew, v_role;
    IF done THEN LEAVE each_one; END IF;
    CALL roster_crew(p_to, v_crew, v_role, v_outcome);
  END LOOP;
  CLOSE c;
END$$

DELIMITER ;
