/* Berths: who lies where, and until when. */
IF OBJECT_ID('berth.assign_berth') IS NULL
    EXEC ('CREATE PROCEDURE berth.assign_berth AS RETURN 0');
GO
ALTER PROCEDURE berth.assign_berth
    @vessel_id  int,
    @sailing_id int,
    @note       nvarchar(200) = NULL OUTPUT
AS
BEGIN
    SET NOCOUNT ON;

    IF NOT EXISTS (SELECT 1 FROM berth.vessels WHERE vessel_id = @vessel_id)
    BEGIN
        SET @note = N'No vessel has this number.';
        RETURN 40;
    END;

    DECLARE @berth_no int = (SELECT TOP (1) b.berth_no FROM berth.free_berths(@sailing_id) AS b ORDER BY b.length_m);

    IF @berth_no IS NULL
    BEGIN
        SET @note = N'Every berth that is long enough is taken.';
        RETURN 41;
    END;

    INSERT INTO berth.assignments (vessel_id, sailing_id, berth_no)
    VALUES (@vessel_id, @sailing_id, @berth_no);

    SET @note = CONCAT(N'Berth ', @berth_no);
    RETURN 0;
END
GO

CREATE OR ALTER PROCEDURE berth.release_berth
    @assignment_id int,
    @reason        varchar(60) = 'sailed'
AS
BEGIN
    SET NOCOUNT ON;
    UPDATE berth.assignments SET released_at = SYSDATETIME(), reason = @reason WHERE assignment_id = @assignment_id;
    IF @@ROWCOUNT = 0 RETURN 44;
    RETURN 0;
END
GO

CREATE OR ALTER PROCEDURE berth.list_berths
    @day date = NULL
AS
BEGIN
    SET NOCOUNT ON;
    SELECT b.berth_no, b.length_m, v.name AS vessel, a.released_at
    FROM berth.berths AS b
        LEFT JOIN berth.assignments AS a ON a.berth_no = b.berth_no
        LEFT JOIN berth.vessels AS v ON v.vessel_id = a.vessel_id
    WHERE @day IS NULL OR CAST(a.assigned_at AS date) = @day
    ORDER BY b.berth_no;
END
GO

CREATE OR ALTER FUNCTION berth.free_berths (@sailing_id int)
RETURNS TABLE
AS
RETURN
(
    SELECT b.berth_no, b.length_m
    FROM berth.berths AS b
    WHERE NOT EXISTS (SELECT 1 FROM berth.assignments AS a WHERE a.berth_no = b.berth_no AND a.sailing_id = @sailing_id)
);
GO
