\echo Loading plans of the car decks, on PostgreSQL
CREATE SCHEMA loading;

CREATE DOMAIN loading.metres AS numeric(5,2) CHECK (VALUE > 0);
CREATE TYPE loading.deck AS ENUM ('car', 'lorry', 'upper');
CREATE TABLE loading.slots (
    slot_id  bigint PRIMARY KEY,
    deck     loading.deck NOT NULL,
    length   loading.metres NOT NULL,
    taken_by bigint
);

-- Finds room for one vehicle. Nothing comes back where there is none.
CREATE FUNCTION loading.find_slot(p_length loading.metres, p_deck loading.deck DEFAULT 'car',
    OUT slot_id bigint, OUT room loading.metres)
LANGUAGE plpgsql STABLE AS $$
BEGIN
  SELECT s.slot_id, s.length - p_length INTO slot_id, room
  FROM loading.slots s
  WHERE s.deck = p_deck AND s.taken_by IS NULL AND s.length >= p_length
  ORDER BY s.length LIMIT 1;
END $$;

CREATE FUNCTION loading.free_slots(p_deck loading.deck)
RETURNS TABLE (slot_id bigint, length loading.metres) LANGUAGE sql
BEGIN ATOMIC
  SELECT s.slot_id, s.length FROM loading.slots s WHERE s.deck = p_deck AND s.taken_by IS NULL;
END;

CREATE PROCEDURE loading.plan(p_sailing_id bigint, VARIADIC p_vehicles bigint[])
LANGUAGE plpgsql AS $body$
BEGIN
  UPDATE loading.slots SET taken_by = NULL WHERE taken_by = ANY (p_vehicles);
END $body$;
