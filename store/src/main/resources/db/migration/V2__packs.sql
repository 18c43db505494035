-- The backups of a database with their copies, packed for reading at once. Worked out from the rows of backup, position and
-- copy, which stay the truth: a pack that is missing, of another version or damaged is not used.
CREATE TABLE pack (
  database TEXT PRIMARY KEY,
  rows     INTEGER NOT NULL,
  content  BLOB NOT NULL
) WITHOUT ROWID;

-- Backups that changed since their database was packed.
CREATE TABLE unpacked (
  database TEXT NOT NULL,
  backup   INTEGER NOT NULL,
  PRIMARY KEY (database, backup)
) WITHOUT ROWID;
