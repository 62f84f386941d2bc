-- Each line "want:" tells what the file declares, in order; "problem:" what could not be read, with its line.
USE [Desk]
GO
/* A comment with a GO inside
GO
/* and another inside */
CREATE PROC not_this AS SELECT 1
*/
PRINT 'CREATE PROCEDURE nor_this AS
GO
'
GO
-- want: procedure dbo.no_parameters() status [] rows [n]
CREATE PROC dbo.no_parameters AS SELECT COUNT(*) AS n FROM berth.berths
GO
-- want: procedure dbo.brackets(@a in int, @b in [varchar](10)) status [0]
create procedure [dbo].[brackets] (@a as int, @b [varchar](10)) as return 0
go 3
-- want: procedure [odd]]name].p(@x in int) status []
CREATE PROCEDURE [Desk].[odd]]name].p @x int AS SET NOCOUNT ON
GO
-- want: procedure defaults(@a in int = 5, @b in int = -3, @c in decimal(8, 2) = -1.50, @d in nvarchar(20) = N'it''s, (so)', @e in varchar(10) = NULL, @f in varchar(5) = abc, @g in money = $1.25, @h in varbinary(4) = 0x1F, @i out int = NULL) status []
CREATE OR ALTER PROCEDURE defaults
    @a int = 5, @b int = -3, @c decimal(8, 2) = -1.50, -- a comment, with a comma
    @d nvarchar(20) = N'it''s, (so)', @e varchar(10) = NULL, @f varchar(5) = abc,
    @g money = $1.25, @h varbinary(4) = 0x1F, @i int = NULL OUTPUT
WITH RECOMPILE, ENCRYPTION, EXECUTE AS 'desk'
AS
    SET @i = 1
GO
-- want: procedure kinds(@a out cursor:cursor, @b in nvarchar(max):string(-1)n, @c in float(24):float32, @d in float(25):float64, @e in datetime2(3):timestamp(3), @f in datetimeoffset:timestamptz, @g in sql_variant:any, @h in xml(dbo.Notes):xml, @i in national character varying(20):string(20)n, @j in rowversion:bytes, @k in bit:bool, @l in tinyint:uint8, @m in hierarchyid:user, @n in sysname:string(128)n, @o in uniqueidentifier:uuid) status []
CREATE PROCEDURE kinds @a cursor VARYING OUTPUT, @b nvarchar(max), @c float(24), @d float(25), @e datetime2(3), @f datetimeoffset,
    @g sql_variant, @h xml(dbo.Notes), @i national character varying(20), @j rowversion, @k bit, @l tinyint, @m hierarchyid, @n sysname, @o uniqueidentifier
FOR REPLICATION AS SET NOCOUNT ON
GO
-- want: procedure named_types(@code in dbo.PassCode:string(14), @again out PassCode:string(14), @rows in deck.VehicleList:table, @other in dbo.Nowhere:user) status []
CREATE PROCEDURE named_types @code dbo.PassCode, @again PassCode OUT, @rows deck.VehicleList READONLY, @other dbo.Nowhere AS SET NOCOUNT ON
GO
CREATE TYPE dbo.PassCode FROM varchar(14) NOT NULL
CREATE TYPE [deck].[VehicleList] AS TABLE (registration nvarchar(12) NOT NULL PRIMARY KEY, length_cm int, CHECK (length_cm > 0), INDEX ix (length_cm))
GO
-- want: procedure fares;2(@a in int) status []
CREATE PROCEDURE fares;2 @a int AS SET NOCOUNT ON
GO
-- want: procedure clr.outside(@a in int) language clr status [] open
CREATE PROCEDURE clr.outside @a int AS EXTERNAL NAME harbour.[Ferry.Procedures].outside
GO
-- want: function dbo.scalar(@a in int, @b in int = 2) returns decimal(8,2)
CREATE FUNCTION dbo.scalar (@a int, @b int = 2) RETURNS decimal(8,2) WITH SCHEMABINDING, RETURNS NULL ON NULL INPUT AS BEGIN DECLARE @x int; SELECT @x = 1; RETURN @a * CASE WHEN @b = 1 THEN 2 ELSE 3 END END
GO
-- want: function dbo.inline_table() returns set [slot length total]
CREATE FUNCTION dbo.inline_table() RETURNS TABLE RETURN WITH c AS (SELECT 1 AS one) SELECT d.slot, d.[length], total = SUM(x) FROM deck.slots AS d CROSS JOIN c
GO
-- want: function dbo.table_variable(@a in int) returns set [id name doubled]
CREATE FUNCTION dbo.table_variable(@a int) RETURNS @out TABLE (id int PRIMARY KEY, name nvarchar(20) COLLATE Latin1_General_CI_AS, doubled AS id * 2) AS BEGIN INSERT @out SELECT 1, N'x'; RETURN; END
GO
-- want: procedure dbo.stub(@real in int) status [7]
EXEC ('CREATE PROCEDURE dbo.stub AS SELECT ''nothing''')
GO
ALTER PROCEDURE dbo.stub @real int AS RETURN 7
GO
-- want: procedure dbo.stub_by_text() status [] rows [x]
IF OBJECT_ID('dbo.stub_by_text') IS NULL EXEC dbo.sp_executesql @statement = N'CREATE PROC dbo.stub_by_text AS SELECT ''y'' AS x'
GO
CREATE PROCEDURE dropped AS SELECT 1
GO
DROP PROCEDURE IF EXISTS dropped, not_there
GO
-- want: procedure dbo.new_name() status []
CREATE PROCEDURE dbo.old_name AS SET NOCOUNT ON
GO
EXEC sp_rename 'dbo.old_name', 'new_name'
GO
-- want: procedure berth.moved() status []
CREATE PROCEDURE dbo.moved AS SET NOCOUNT ON
GO
ALTER SCHEMA berth TRANSFER dbo.moved
GO
-- problem: a comma is missing before @b
CREATE PROCEDURE broken_one @a int @b int AS SELECT 1
GO
-- problem: "SELECT" stands where AS and the body should stand
CREATE PROCEDURE broken_two @a int SELECT 1
GO
-- want: procedure after_the_broken_ones() status []
CREATE PROCEDURE after_the_broken_ones AS SET NOCOUNT ON
GO
-- want: procedure codes(@rc in int) status [-5 -1 0 3 4] open
CREATE PROCEDURE codes @rc int AS
BEGIN
    IF @rc = 1 RETURN
    IF @rc = 2 RETURN 3; ELSE RETURN (4)
    BEGIN TRY RETURN -1 END TRY
    BEGIN CATCH RETURN - (5) END CATCH
    IF @rc > 9 RETURN @rc
    IF @rc > 8 RETURN CASE WHEN 1 = 1 THEN 99 ELSE 98 END
    IF @rc > 7 RETURN 6 + 1
    RETURN (0)
END
GO
-- want: procedure result_sets(@x in int, @y out int) status [] rows [a b | total y mine | id | old new | one | JSON_F52E2B61-18A1-11d1-B105-00805F49916B | * | berth_no vessel]
CREATE PROCEDURE result_sets @x int, @y int OUTPUT AS
BEGIN
    DECLARE @t TABLE (a int)
    DECLARE @n int = (SELECT COUNT(*) FROM deck.slots), @m int
    SELECT @n = 1, @m = MAX(a) FROM @t
    SELECT @y += 1
    SELECT a INTO #kept FROM @t
    INSERT INTO @t SELECT 1 UNION SELECT 2
    INSERT @t EXEC dbo.no_parameters
    IF EXISTS (SELECT 1 FROM @t) SELECT t.a, [b] FROM @t AS t WHERE a IN (SELECT a FROM @t)
    SELECT total = SUM(a), MAX(b) y, CASE WHEN 1 = 1 THEN 'x' ELSE (SELECT 'y') END AS 'mine' FROM @t GROUP BY a UNION ALL SELECT 1, 2, 3 ORDER BY 1 OFFSET 5 ROWS FETCH NEXT 10 ROWS ONLY
    INSERT INTO @t (a) OUTPUT inserted.id VALUES (1)
    UPDATE @t SET a = 1 OUTPUT deleted.a AS old, inserted.a AS new WHERE a = 2
    DELETE @t OUTPUT deleted.a INTO #kept
    ;WITH c AS (SELECT 1 AS one), d (two) AS (SELECT 2) SELECT one FROM c WITH (NOLOCK)
    SELECT a FROM @t FOR JSON PATH
    SELECT * FROM @t
    DECLARE c CURSOR LOCAL FOR SELECT b.berth_no, b.vessel FROM berth.berths AS b FOR UPDATE
    FETCH NEXT FROM c INTO @n, @m
    FETCH NEXT FROM c
    MERGE @t AS t USING @t AS s ON t.a = s.a WHEN MATCHED THEN UPDATE SET a = 2 WHEN NOT MATCHED THEN INSERT (a) VALUES (1) OUTPUT $action INTO #kept;
    GRANT SELECT, EXECUTE ON berth.berths TO desk
    SET @y = (SELECT 1)
END
GO
DELETE FROM berth.berths
-- want: procedure not_first_in_its_batch() status []
CREATE PROCEDURE not_first_in_its_batch AS SET NOCOUNT ON
GO
