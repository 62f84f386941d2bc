-- A line that ends in "finds …" tells the rules that find something on it; the others find nothing.
DECLARE @rc int, @note nvarchar(200), @short nvarchar(20), @flag bit, @total decimal(8,2), @day date, @from_deck tinyint, @to_deck tinyint;
EXEC @rc = berth.assign 7, 8, @note OUTPUT;
SELECT @rc, @note;
EXEC berth.assgn 7, 8; -- finds unknown-routine
EXEC @rc = berth.assign 7; -- finds missing-argument
EXEC @rc = berth.assign 7, 8, @note OUTPUT, 9; -- finds extra-argument
EXEC @rc = berth.assign @vessel = 7, @sailing_id = 8; -- finds unknown-parameter
EXEC @rc = berth.assign 7, 8, @sailing_id = 9; -- finds duplicate-argument
EXEC @rc = berth.assign @vessel_id = 7, 8; -- finds positional-after-named
EXEC deck.move @to_deck, @from_deck; -- finds swapped-arguments
EXEC @rc = berth.assign 7, 8, @note; -- finds out-not-received
EXEC deck.move @from_deck OUTPUT, 2; -- finds in-received-as-out
EXEC @rc = berth.assign 7, 8, N'x'; -- finds literal-for-out
EXEC fare.quote 1, DEFAULT, @total OUTPUT;
SELECT @total;
EXEC fare.quote DEFAULT, DEFAULT, @total OUTPUT; -- finds default-missing
EXEC fare.quote 1, 20260504, @total OUTPUT; -- finds type-mismatch
EXEC fare.quote @day, NULL, @total OUTPUT; -- finds type-mismatch
EXEC @rc = berth.assign 7, 8, @short OUTPUT; -- finds size-mismatch
SELECT @short;
EXEC berth.assign 7, 8; -- finds status-ignored
EXEC @rc = berth.assign 7, 8;
IF @rc = 44 PRINT 'taken'; -- finds status-never-returned
EXEC @flag = berth.assign 7, 8; -- finds status-type-mismatch
EXEC @rc = fare.dues 3;
EXEC @rc = fare.release 3;
EXEC fare.slots 3; -- finds kind-mismatch
SET @rc = fare.release(3); -- finds kind-mismatch
SELECT [fare].[release](3), fare.dues(2), COUNT(*) FROM deck.slots; -- finds kind-mismatch
INSERT INTO fare.release (id) VALUES (1);
GO
DECLARE @total decimal(8,2);
EXEC fare.quote 1, NULL, @total OUTPUT; -- finds out-never-read
EXEC sp_executesql N'SELECT 1';
EXEC release 4; -- finds ambiguous-call
GO
