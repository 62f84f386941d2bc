-- Came over from the Skerry Line and was never finished: a comma is missing.
CREATE PROCEDURE fare.old_tariff
    @route  varchar(20)
    @season char(1) = 'S'
AS
    SELECT amount FROM fare.skerry_tariff WHERE route = @route AND season = @season;
GO
