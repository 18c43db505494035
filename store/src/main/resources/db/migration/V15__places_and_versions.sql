-- Where copies lie: one place of a store is one backup's alone.
CREATE INDEX copy_at_place ON copy (store, ltrim(json_extract(rest, '$.path'), '/')) WHERE rest <> '';

-- Places that several backups say they lie at, whatever became of them since.
CREATE TABLE shared_place (
  store TEXT NOT NULL,
  path  TEXT NOT NULL,
  PRIMARY KEY (store, path)
) WITHOUT ROWID;
INSERT OR IGNORE INTO shared_place
SELECT store, ltrim(json_extract(rest, '$.path'), '/') FROM copy
WHERE rest <> '' AND json_extract(rest, '$.path') IS NOT NULL GROUP BY 1, 2 HAVING count(*) > 1;

-- How often a list changed: who acts on it says which state of it they act on.
ALTER TABLE purge ADD COLUMN version INTEGER NOT NULL DEFAULT 1;

-- Who told what became of an item.
ALTER TABLE purge_item ADD COLUMN told_by TEXT NOT NULL DEFAULT '';
