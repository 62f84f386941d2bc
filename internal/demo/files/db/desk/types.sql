-- Types that the ticket desk's routines share.
CREATE TYPE dbo.PassCode FROM varchar(14) NOT NULL;
GO
CREATE TYPE deck.VehicleList AS TABLE
(
    registration nvarchar(12) NOT NULL PRIMARY KEY,
    length_cm    int          NOT NULL,
    height_cm    int          NULL
);
GO
