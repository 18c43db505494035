-- What started a run, and the slot it says it was made for, leave the kept text and stand in columns of their own.
ALTER TABLE run ADD COLUMN triggered_by TEXT;
ALTER TABLE run ADD COLUMN slot_schedule TEXT;
ALTER TABLE run ADD COLUMN slot_opens INTEGER;

UPDATE run SET triggered_by = json_extract(rest, '$.trigger'), rest = json_remove(rest, '$.trigger')
WHERE rest <> '' AND json_extract(rest, '$.trigger') IN ('schedule', 'hand');

UPDATE run SET
    slot_schedule = json_extract(rest, '$.slot.schedule'),
    slot_opens = CAST(round((julianday(json_extract(rest, '$.slot.opens')) - 2440587.5) * 86400) AS INTEGER) * 1000,
    rest = json_remove(rest, '$.slot')
WHERE rest <> '' AND json_extract(rest, '$.slot.schedule') IS NOT NULL
    AND julianday(json_extract(rest, '$.slot.opens')) IS NOT NULL;

UPDATE run SET rest = '' WHERE rest = '{}';
