-- Headers of every kind, beside what the extensions show.
CREATE SCHEMA desk;
CREATE SCHEMA "Office";
CREATE DOMAIN desk.fare_code AS varchar(8) CHECK (VALUE <> '');
CREATE DOMAIN desk.amounts AS numeric(9,2)[];
CREATE TYPE desk.deck AS ENUM ('car', 'lorry');
CREATE TYPE desk.tide AS (opens timestamptz, closes timestamptz(3), "Depth m" numeric(5,2));
CREATE TABLE desk.sailings (id bigint PRIMARY KEY, berth text DEFAULT 'a, (b)', leaves timestamp(0) without time zone NOT NULL, CHECK (id > 0));
CREATE FUNCTION desk.book(p_sailing bigint, IN p_deck desk.deck DEFAULT 'car'::desk.deck, p_length IN numeric(5,2) = 4.5,
    OUT p_pass integer, INOUT p_note text DEFAULT NULL::text) RETURNS record
LANGUAGE plpgsql SECURITY DEFINER SET search_path = desk, pg_temp COST 50 AS $body$
BEGIN
  -- CREATE FUNCTION not_me() RETURNS int AS $$ SELECT 1 $$;
  p_pass := 1;
  PERFORM pg_notify('x', $q$it's; fine$q$);
  RETURN;
END
$body$;
CREATE FUNCTION plain(int) RETURNS integer IMMUTABLE STRICT LANGUAGE 'sql' AS 'SELECT $1 + 1';
CREATE FUNCTION many(VARIADIC args double precision[]) RETURNS double precision AS $$ SELECT 1.0::float8 $$ LANGUAGE sql PARALLEL SAFE;
CREATE FUNCTION types(character varying(20), timestamp(3) with time zone, bit varying(8), a interval day to second(3), b int[][], c pg_catalog."char", d "char",
  e time without time zone, f float(10), g desk.tide, h _text, i float(30), j dec(5,1), k char varying, l national character varying(5), m timetz, n interval year to month,
  o numeric[], p desk.deck[], q desk.sailings, r oid, s regclass, t inet, u money, v jsonb, w xml, x uuid, y tsquery, z int4range)
  RETURNS void LANGUAGE sql AS '';
CREATE FUNCTION anchored(p desk.sailings.leaves%TYPE, q desk.fare_code, r desk.amounts) RETURNS SETOF desk.sailings LANGUAGE sql AS $_$ SELECT * FROM desk.sailings $_$;
CREATE FUNCTION timetable(day date) RETURNS TABLE (id bigint, "leaves at" timestamptz, berth text) LANGUAGE plpgsql ROWS 10 AS $f$
BEGIN
  RETURN QUERY SELECT 1::bigint, now(), 'a'::text;
END $f$;
CREATE FUNCTION atomic(a int) RETURNS int LANGUAGE sql
BEGIN ATOMIC
  SELECT CASE WHEN a > 1 THEN 1 ELSE 2 END;
  SELECT 3;
END;
CREATE FUNCTION expr(a int, b int DEFAULT (1 + (2))) RETURNS int RETURN a + b;
CREATE PROCEDURE settle(p_id int, INOUT p_rows refcursor, OUT p_total numeric) AS $$
BEGIN
  OPEN p_rows FOR SELECT s.id, sum(1) AS sum FROM desk.sailings s;
  CALL other(p_id, p_total);
END $$ LANGUAGE plpgsql;
CREATE PROCEDURE quiet(a int, b text DEFAULT E'it\'s, (b)') LANGUAGE plpgsql AS $$ BEGIN NULL; END $$;
CREATE PROCEDURE no_text(VARIADIC a text[]) LANGUAGE sql AS 'SELECT 1';
CREATE FUNCTION "Office"."Kept Case"("In" text DEFAULT E'a\'b, (c', arr int[] DEFAULT ARRAY[1,2], j jsonb = '{"a": [1, 2]}'::jsonb) RETURNS void LANGUAGE sql AS '';
CREATE FUNCTION over(a int) RETURNS int LANGUAGE sql AS 'SELECT 1';
CREATE FUNCTION over(a text) RETURNS int LANGUAGE sql AS 'SELECT 2';
CREATE FUNCTION over(a pg_catalog.int8) RETURNS int LANGUAGE sql AS 'SELECT 3';
CREATE FUNCTION over(a varchar) RETURNS int LANGUAGE sql AS 'SELECT 3';
CREATE OR REPLACE FUNCTION over(a integer) RETURNS int LANGUAGE sql AS 'SELECT 4';
DROP FUNCTION over(bigint);
DROP FUNCTION IF EXISTS over(IN a character varying), never_there(int);
CREATE FUNCTION old_name(a int) RETURNS int LANGUAGE sql AS 'SELECT 1';
ALTER FUNCTION old_name(integer) RENAME TO new_name;
ALTER FUNCTION new_name(integer) SET SCHEMA "Office";
ALTER FUNCTION expr(int, int) COST 5;
CREATE PROCEDURE gone() LANGUAGE sql AS 'SELECT 1';
DROP ROUTINE gone;
CREATE FUNCTION poly(anyelement, b anyarray) RETURNS anyelement LANGUAGE sql AS 'SELECT $1';
CREATE FUNCTION trig() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RETURN NEW; END $$;
CREATE FUNCTION rows_of_record(OUT a int, OUT b text) RETURNS SETOF record LANGUAGE sql AS $$ SELECT 1, 'a' $$;
CREATE FUNCTION modes(a IN int, b OUT int, c INOUT int, IN d int) LANGUAGE sql AS 'SELECT 1, 2';
CREATE FUNCTION wide(a int) RETURNS SETOF int LANGUAGE sql AS 'SELECT 1';
CREATE AGGREGATE total(int) (SFUNC = int4pl, STYPE = int);
DO $do$
BEGIN
  IF NOT EXISTS (SELECT 1 FROM pg_proc WHERE proname = 'made_inside') THEN
    CREATE FUNCTION made_inside(a int) RETURNS int LANGUAGE sql AS $in$ SELECT 1; $in$;
  END IF;
END $do$;
