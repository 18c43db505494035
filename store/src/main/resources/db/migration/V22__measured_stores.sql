-- What the agent of a store measured when it last looked.
ALTER TABLE agent ADD COLUMN measured INTEGER;
ALTER TABLE agent ADD COLUMN free INTEGER NOT NULL DEFAULT 0;
ALTER TABLE agent ADD COLUMN capacity INTEGER NOT NULL DEFAULT 0;
ALTER TABLE agent ADD COLUMN writable INTEGER;
ALTER TABLE agent ADD COLUMN locks TEXT NOT NULL DEFAULT 'unknown';
ALTER TABLE agent ADD COLUMN trouble TEXT NOT NULL DEFAULT '';
ALTER TABLE agent ADD COLUMN troubled INTEGER;

-- Whether every file is read through for its checksum.
ALTER TABLE stocktake ADD COLUMN sums INTEGER NOT NULL DEFAULT 0;

-- Places within which another copy says it lies, whatever became of both since.
CREATE TABLE outer_place (
  store TEXT NOT NULL,
  path  TEXT NOT NULL,
  PRIMARY KEY (store, path)
) WITHOUT ROWID;
INSERT OR IGNORE INTO outer_place
SELECT c.store, rtrim(ltrim(json_extract(c.rest, '$.path'), '/'), '/') FROM copy c
WHERE c.rest <> '' AND rtrim(ltrim(json_extract(c.rest, '$.path'), '/'), '/') <> '' AND EXISTS
  (SELECT 1 FROM copy i WHERE i.store = c.store AND i.rest <> ''
    AND ltrim(json_extract(i.rest, '$.path'), '/') > rtrim(ltrim(json_extract(c.rest, '$.path'), '/'), '/') || '/'
    AND ltrim(json_extract(i.rest, '$.path'), '/') < rtrim(ltrim(json_extract(c.rest, '$.path'), '/'), '/') || '0'
    AND i.backup <> c.backup);
