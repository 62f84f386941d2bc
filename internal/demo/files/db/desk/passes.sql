SET ANSI_NULLS ON
GO
SET QUOTED_IDENTIFIER ON
GO
-- A boarding pass for one passenger. Refusals: 50 the sailing is full, 51 it has left, 52 the fare is not paid.
CREATE OR ALTER PROCEDURE [pass].[issue_pass]
    @sailing_id int,
    @passenger  nvarchar(80),
    @born       date          = NULL,
    @pass_code  dbo.PassCode  OUTPUT,
    @fare       decimal(8, 2) OUTPUT
WITH EXECUTE AS OWNER
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @rc int;

    IF (SELECT departs_at FROM pass.sailings WHERE sailing_id = @sailing_id) < SYSDATETIME() RETURN 51;
    IF pass.seats_left(@sailing_id) < 1 RETURN 50;

    EXEC fare.quote_fare @sailing_id = @sailing_id, @born = @born, @fare = @fare OUTPUT;
    IF @fare IS NULL RETURN 52;

    SET @pass_code = CONCAT('SM', FORMAT(NEXT VALUE FOR pass.numbers, '0000000000'));
    INSERT INTO pass.passes (pass_code, sailing_id, passenger, fare) VALUES (@pass_code, @sailing_id, @passenger, @fare);
    RETURN 0;
END
GO

CREATE OR ALTER PROCEDURE pass.check_in
    @pass_code  dbo.PassCode,
    @checked_at datetime2(0) OUTPUT
AS
BEGIN
    SET NOCOUNT ON;
    SELECT p.passenger, p.sailing_id, p.seat
    FROM pass.passes AS p
    WHERE p.pass_code = @pass_code;

    UPDATE pass.passes SET @checked_at = checked_at = SYSDATETIME() WHERE pass_code = @pass_code;
    IF @@ROWCOUNT = 0 RETURN 60;
    RETURN 0;
END
GO

CREATE OR ALTER FUNCTION pass.seats_left (@sailing_id int)
RETURNS int
AS
BEGIN
    RETURN (SELECT s.seats - COUNT(p.pass_code)
            FROM pass.sailings AS s LEFT JOIN pass.passes AS p ON p.sailing_id = s.sailing_id
            WHERE s.sailing_id = @sailing_id
            GROUP BY s.seats);
END
GO
