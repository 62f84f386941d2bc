-- Fares and vehicle decks.
CREATE OR ALTER PROCEDURE fare.quote_fare
    @sailing_id int,
    @born       date          = NULL,
    @currency   char(3)       = 'EUR',
    @fare       decimal(8, 2) OUTPUT
AS
BEGIN
    SET NOCOUNT ON;
    SELECT @fare = f.amount * CASE WHEN @born > DATEADD(YEAR, -12, SYSDATETIME()) THEN 0.5 ELSE 1 END
    FROM fare.fares AS f
    WHERE f.sailing_id = @sailing_id AND f.currency = @currency;
END
GO

-- Since the new upper deck, the height counts too.
CREATE OR ALTER PROCEDURE deck.load_vehicle
    @sailing_id   int,
    @registration nvarchar(12),
    @length_cm    int,
    @height_cm    int,
    @deck         tinyint      OUTPUT
AS
BEGIN
    SET NOCOUNT ON;
    SELECT TOP (1) @deck = d.deck
    FROM deck.decks AS d
    WHERE d.sailing_id = @sailing_id AND d.free_cm >= @length_cm AND d.clearance_cm > @height_cm
    ORDER BY d.deck;

    IF @deck IS NULL RETURN 70;
    INSERT INTO deck.loads (sailing_id, registration, deck) VALUES (@sailing_id, @registration, @deck);
    RETURN 0;
END
GO

CREATE OR ALTER PROCEDURE deck.move_vehicle
    @registration nvarchar(12),
    @from_deck    tinyint,
    @to_deck      tinyint
AS
BEGIN
    SET NOCOUNT ON;
    UPDATE deck.loads SET deck = @to_deck WHERE registration = @registration AND deck = @from_deck;
    IF @@ROWCOUNT = 0 RETURN 71;
    RETURN 0;
END
GO

CREATE OR ALTER PROCEDURE deck.load_convoy
    @sailing_id int,
    @vehicles   deck.VehicleList READONLY
AS
BEGIN
    SET NOCOUNT ON;
    INSERT INTO deck.loads (sailing_id, registration, deck)
    OUTPUT inserted.registration, inserted.deck
    SELECT @sailing_id, v.registration, 1 FROM @vehicles AS v;
END
GO
