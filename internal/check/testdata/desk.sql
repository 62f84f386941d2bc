CREATE PROCEDURE berth.assign @vessel_id int, @sailing_id int, @note nvarchar(200) = NULL OUTPUT AS
BEGIN
  IF @vessel_id < 0 RETURN 40;
  IF @sailing_id < 0 RETURN 41;
  SET @note = N'ok';
  RETURN 0;
END
GO
CREATE PROCEDURE berth.list @day date = NULL AS
  SELECT berth_no, vessel FROM berth.berths;
GO
CREATE PROCEDURE deck.move @from_deck tinyint, @to_deck tinyint AS SET NOCOUNT ON;
GO
CREATE PROCEDURE fare.quote @sailing_id int, @born date = NULL, @total decimal(8,2) OUTPUT AS SET @total = 1;
GO
CREATE PROCEDURE fare.dynamic @sql nvarchar(max) AS EXEC (@sql);
GO
CREATE PROCEDURE pass.code @code varchar(14) OUTPUT, @photo varbinary(max) OUTPUT AS SET @code = 'x';
GO
CREATE PROCEDURE fare.release @id int AS SET NOCOUNT ON;
GO
CREATE PROCEDURE deck.release @id int AS SET NOCOUNT ON;
GO
CREATE FUNCTION fare.dues (@m int) RETURNS decimal(8,2) AS BEGIN RETURN 1 END
GO
CREATE FUNCTION fare.slots (@m int) RETURNS TABLE AS RETURN (SELECT slot FROM deck.slots)
GO
CREATE PROCEDURE cargo.weigh @manifest xml, @key uniqueidentifier, @seen datetimeoffset, @at time, @full bit, @heavy float, @tag sysname, @kilos decimal(9,3) OUTPUT, @stamp datetime2 OUTPUT, @label sysname OUTPUT, @ok bit OUTPUT, @big bigint OUTPUT AS
BEGIN
  SELECT @kilos = 1, @stamp = SYSDATETIME(), @label = N'x', @ok = 1, @big = 1;
  IF @full = 1 RETURN 3;
  RETURN 0;
END
GO
