package testkit

import (
	"bytes"
	"fmt"
)

// The pieces of long routines, as a ferry line's nightly runs have them.
const (
	sqlServerHead = `/****************************************************************************************
  night.settle_%[1]d
  Settles the fares of one day: every pass that was checked in is charged to its account,
  every sailing that was cancelled is paid back. Runs after the last sailing.
****************************************************************************************/
CREATE OR ALTER PROCEDURE night.settle_%[1]d
    @day        date,
    @route      char(3)       = NULL,
    @batch_size int           = 500,
    @settled    int           OUTPUT,
    @message    nvarchar(400) = NULL OUTPUT
AS
BEGIN
    SET NOCOUNT, XACT_ABORT ON;

    IF @day >= CAST(SYSDATETIME() AS date)
    BEGIN
        SET @message = N'The day is not over yet; nothing was settled.';
        RETURN 10;
    END;
`
	sqlServerPart = `
    -- Part %[1]d: the passes of one route are charged in batches, so that the desk can go on selling
    -- while this runs. A pass without an account is left for the morning shift to look at.
    IF EXISTS (SELECT 1 FROM pass.passes AS p WHERE p.sailing_day = @day AND p.settled_at IS NULL AND p.part = %[1]d)
    BEGIN
        BEGIN TRANSACTION;

        UPDATE TOP (@batch_size) p
        SET    p.settled_at = SYSDATETIME(),
               p.settled_by = ORIGINAL_LOGIN(),
               p.amount     = CASE WHEN p.is_child = 1 THEN ROUND(f.amount * 0.5, 2) ELSE f.amount END
        FROM   pass.passes AS p
               INNER JOIN pass.sailings AS s ON s.sailing_id = p.sailing_id
               INNER JOIN fare.fares AS f ON f.sailing_id = s.sailing_id AND f.currency = 'EUR'
        WHERE  p.sailing_day = @day AND p.part = %[1]d AND (@route IS NULL OR s.route = @route);

        SET @settled = @settled + @@ROWCOUNT;

        INSERT INTO night.journal (day, part, passes, written_at, remark)
        VALUES (@day, %[1]d, @settled, SYSDATETIME(), N'Settled as usual; see the log of the ramp for passes that were read twice.');

        COMMIT TRANSACTION;
    END;
`
	sqlServerTail = `
    SELECT s.route, COUNT(*) AS passes, SUM(p.amount) AS amount
    FROM pass.passes AS p INNER JOIN pass.sailings AS s ON s.sailing_id = p.sailing_id
    WHERE p.sailing_day = @day
    GROUP BY s.route
    ORDER BY s.route;

    RETURN 0;
END
GO

`
	mySQLHead = `
-- Settles the fares of one day: every pass that was checked in is charged to its account,
-- every sailing that was cancelled is paid back. Runs after the last sailing.
CREATE DEFINER=` + "`harbour`@`localhost`" + ` PROCEDURE settle_%[1]d(IN p_day DATE, IN p_route CHAR(3), OUT p_settled INT, OUT p_message VARCHAR(400))
    MODIFIES SQL DATA
    COMMENT 'settles one day; see the night plan'
BEGIN
  DECLARE v_rows INT DEFAULT 0;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION
  BEGIN
    ROLLBACK;
    SET p_message = 'Settling stopped half way; nothing of this part was kept.';
  END;
  SET p_settled = 0;
`
	mySQLPart = `
  -- Part %[1]d: the passes of one route are charged together, so that the desk can go on selling
  -- while this runs. A pass without an account is left for the morning shift to look at.
  IF EXISTS (SELECT 1 FROM passes p WHERE p.sailing_day = p_day AND p.settled_at IS NULL AND p.part = %[1]d) THEN
    START TRANSACTION;
    UPDATE passes p
      JOIN sailings s ON s.sailing_id = p.sailing_id
      JOIN fares f ON f.sailing_id = s.sailing_id AND f.currency = 'EUR'
    SET p.settled_at = NOW(),
        p.amount = CASE WHEN p.is_child = 1 THEN ROUND(f.amount * 0.5, 2) ELSE f.amount END
    WHERE p.sailing_day = p_day AND p.part = %[1]d AND (p_route IS NULL OR s.route = p_route);
    SET v_rows = ROW_COUNT();
    SET p_settled = p_settled + v_rows;
    INSERT INTO journal (day, part, passes, written_at, remark)
    VALUES (p_day, %[1]d, v_rows, NOW(), 'Settled as usual; see the log of the ramp for passes that were read twice.');
    COMMIT;
  END IF;
`
	mySQLTail = `
  SELECT s.route, COUNT(*) AS passes, SUM(p.amount) AS amount
  FROM passes p JOIN sailings s ON s.sailing_id = p.sailing_id
  WHERE p.sailing_day = p_day
  GROUP BY s.route;
END$$
`
)

// LongRoutines is a script of procedures of some 150 lines each, size bytes long
// or a little more.
func LongRoutines(size int, head, part, tail, begin string) []byte {
	const parts = 6
	b := bytes.NewBufferString(begin)
	for i := 0; b.Len() < size; i++ {
		fmt.Fprintf(b, head, i)
		for k := range parts {
			fmt.Fprintf(b, part, k)
		}
		b.WriteString(tail)
	}
	return b.Bytes()
}

// LongSQLServer is [LongRoutines] in Transact-SQL.
func LongSQLServer(size int) []byte {
	return LongRoutines(size, sqlServerHead, sqlServerPart, sqlServerTail, "")
}

// LongMySQL is [LongRoutines] for MySQL.
func LongMySQL(size int) []byte {
	return LongRoutines(size, mySQLHead, mySQLPart, mySQLTail, "DELIMITER $$\n")
}
