\echo Saltmarsh Ferries: it's the ticket desk
\set owner desk
\if :{?schema}
\endif
SET search_path = desk;
CREATE DOMAIN fare_code AS varchar(8) CHECK (VALUE <> '');
CREATE TYPE deck AS ENUM ('car', 'lorry');
CREATE TYPE tide AS (opens timestamptz, closes timestamptz(3), "Depth m" numeric(5,2));
CREATE TABLE desk.sailings (id bigint PRIMARY KEY, berth text DEFAULT 'a, (b)', leaves timestamp(0) without time zone NOT NULL, CHECK (id > 0));

-- want: function desk.book(p_sailing in bigint:int64, p_deck in deck:string = 'car'::deck, p_length in numeric(5,2):decimal = 4.5, p_pass out integer:int32, p_note inout text:string = NULL::text) returns record:record language plpgsql
CREATE OR REPLACE FUNCTION desk.book(p_sailing bigint, IN p_deck deck DEFAULT 'car'::deck, p_length IN numeric(5,2) = 4.5,
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
-- want: function plain( in int) returns integer

-- want: function many(args in double precision[]:array variadic) returns double precision:float64
CREATE FUNCTION many(VARIADIC args double precision[]) RETURNS double precision AS $$ SELECT 1.0 $$ LANGUAGE sql PARALLEL SAFE;

-- want: function types( in character varying(20):string(20),  in timestamp(3) with time zone:timestamptz(3),  in bit varying(8):bits(8), a in interval day to second(3):interval(3), b in int[][]:array, c in pg_catalog."char":string, d in "char":string, e in time without time zone:time, f in float(10):float32, g in public.tide:record, h in _text:array) returns trigger:unknown language c
CREATE FUNCTION types(character varying(20), timestamp(3) with time zone, bit varying(8), a interval day to second(3), b int[][], c pg_catalog."char", d "char",
  e time without time zone, f float(10), g public.tide, h _text)
  RETURNS trigger AS '$libdir/desk', 'types_in' LANGUAGE C;

-- want: function anchored(p in desk.sailings.leaves%TYPE:timestamp, q in fare_code:string(8)) returns desk.sailings:record set
CREATE FUNCTION anchored(p desk.sailings.leaves%TYPE, q fare_code) RETURNS SETOF desk.sailings LANGUAGE sql AS $_$ SELECT * FROM desk.sailings $_$;

-- want: function timetable(day in date) returns set [id "leaves at" berth] language plpgsql
CREATE FUNCTION timetable(day date) RETURNS TABLE (id bigint, "leaves at" timestamptz, berth text) LANGUAGE plpgsql ROWS 10 AS $f$
BEGIN
  RETURN QUERY SELECT 1::bigint, now(), 'a'::text;
END $f$;

-- want: function atomic(a in int:int32) returns int:int32
CREATE FUNCTION atomic(a int) RETURNS int LANGUAGE sql
BEGIN ATOMIC
  SELECT CASE WHEN a > 1 THEN 1 ELSE 2 END;
  SELECT 3;
END;
-- want: function expr(a in int, b in int = (1 + (2))) returns int
CREATE FUNCTION expr(a int, b int DEFAULT (1 + (2))) RETURNS int RETURN a + b;

-- want: procedure settle(p_id in int, p_rows inout refcursor, p_total out numeric) language plpgsql rows [id sum]
CREATE PROCEDURE settle(p_id int, INOUT p_rows refcursor, OUT p_total numeric) AS $$
BEGIN
  OPEN p_rows FOR SELECT s.id, sum(1) AS sum FROM sailings s;
  CALL other(p_id, p_total);
END $$ LANGUAGE plpgsql;

/* a comment /* nested; CREATE FUNCTION */ CREATE FUNCTION no() */
-- want: function :schema.quoted("In" in text = E'a\'b, (c', arr in int[] = ARRAY[1,2], j in jsonb = '{"a": [1, 2]}'::jsonb) returns void
CREATE FUNCTION :schema.quoted("In" text DEFAULT E'a\'b, (c', arr int[] DEFAULT ARRAY[1,2], j jsonb = '{"a": [1, 2]}'::jsonb) RETURNS void LANGUAGE sql AS '';
-- want: function @extschema@.ext() returns text language c
CREATE FUNCTION @extschema@.ext() RETURNS text AS 'MODULE_PATHNAME' LANGUAGE C WINDOW;
-- want: function over(a in int) returns int
CREATE FUNCTION over(a int) RETURNS int LANGUAGE sql AS 'SELECT 1';
-- want: function over(a in text) returns int
CREATE FUNCTION over(a text) RETURNS int LANGUAGE sql AS 'SELECT 2';
CREATE FUNCTION over(a pg_catalog.int8) RETURNS int LANGUAGE sql AS 'SELECT 3';
CREATE OR REPLACE FUNCTION over(b integer) RETURNS int LANGUAGE sql AS 'SELECT 4';
CREATE OR REPLACE FUNCTION over(a int) RETURNS int LANGUAGE sql AS 'SELECT 4';
DROP FUNCTION over(bigint);
CREATE FUNCTION old_name(a int) RETURNS int LANGUAGE sql AS 'SELECT 1';
ALTER FUNCTION old_name(integer) RENAME TO new_name;
ALTER FUNCTION new_name(integer) SET SCHEMA office;
-- want: function office.new_name(a in int) returns int
COPY sailings (id, berth) FROM stdin;
1	CREATE FUNCTION in_data() RETURNS int
2	it's
\.
-- want: function after_data() returns regclass language plpython3u
CREATE FUNCTION after_data() RETURNS regclass LANGUAGE plpython3u AS $$ return 'x' $$ TRANSFORM FOR TYPE jsonb;
CREATE AGGREGATE total(int) (SFUNC = int4pl, STYPE = int);
-- want: function modes(a in int, b out int, c inout int, d in int) returns record
CREATE FUNCTION modes(a IN int, b OUT int, c INOUT int, IN d int) RETURNS record LANGUAGE sql AS 'SELECT 1, 2';
-- want: function "Case"."Kept"("A" in int) returns int
CREATE FUNCTION "Case"."Kept"("A" int) RETURNS int LANGUAGE sql AS 'SELECT 1';
-- problem: the header of half cannot be read
CREATE FUNCTION half(a int,, b int) RETURNS int LANGUAGE sql AS 'SELECT 1';
-- want: procedure last_one() language plpgsql
CREATE PROCEDURE last_one() LANGUAGE plpgsql AS $$ BEGIN NULL; END $$
\gexec
