-- Tries the ticket desk's routines by hand.
DECLARE @rc int, @note nvarchar(200), @fare decimal(8, 2), @code varchar(14), @deck tinyint;

-- Right.
EXEC @rc = berth.assign_berth @vessel_id = 7, @sailing_id = 1201, @note = @note OUTPUT;
SELECT @rc AS status, @note AS note;

-- The word is forgotten, so @note stays what it was.
EXEC @rc = berth.assign_berth 7, 1202, @note;
SELECT @rc AS status, @note AS note;

-- The default is asked for: right for @born, wrong for @sailing_id.
EXEC fare.quote_fare @sailing_id = DEFAULT, @born = DEFAULT, @fare = @fare OUTPUT;
SELECT @fare AS fare;

-- Once one argument has its name, all behind it must.
EXEC @rc = deck.load_vehicle @sailing_id = 1201, N'SM-204', @length_cm = 410, @height_cm = 180, @deck = @deck OUTPUT;
SELECT @rc AS status, @deck AS deck;
GO

DECLARE @rc int, @code varchar(10), @fare decimal(8, 2);

-- The variable is shorter than the code.
EXEC @rc = pass.issue_pass 1201, N'Ada Brandt', NULL, @code OUTPUT, @fare OUTPUT;
SELECT @rc AS status, @code AS code, @fare AS fare;
GO
