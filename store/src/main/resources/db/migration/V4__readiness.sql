-- When an observation was made; null for what is stated.
ALTER TABLE record ADD COLUMN observed INTEGER;

-- The newest data backups of a database, without reading its logs.
CREATE INDEX data_backup ON backup (database, kind, ended) WHERE kind IN ('full', 'diff', 'incr');
