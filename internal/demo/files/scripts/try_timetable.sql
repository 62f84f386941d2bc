-- Tries the timetable's routines by hand. The client's delimiter stays as it is.
CALL list_sailings('2026-05-04', NULL);

CALL next_tide('Saltmarsh', NOW(), @high, @height_cm);
SELECT @high, @height_cm;

-- An output needs a variable.
CALL cancel_sailing(1201, 'tide', 0);

SET @minutes = 20;
CALL shift_sailing(1201, @minutes);
SELECT @minutes AS minutes, VERSION() AS version, `route` FROM sailings WHERE sailing_id = 1201;
