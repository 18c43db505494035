-- Facts as they came in. Moments are milliseconds since the epoch, UTC. What is computed is never kept here.

-- Records that are few and replaced whole, as text of the exchange format.
CREATE TABLE record (
  type     TEXT NOT NULL,
  id       TEXT NOT NULL,
  version  INTEGER NOT NULL DEFAULT 0,
  document TEXT NOT NULL,
  PRIMARY KEY (type, id, version)
) WITHOUT ROWID;

CREATE TABLE run (
  num      INTEGER PRIMARY KEY,
  id       TEXT NOT NULL UNIQUE,
  database TEXT NOT NULL,
  kind     TEXT NOT NULL,
  started  INTEGER NOT NULL,
  ended    INTEGER,
  outcome  TEXT NOT NULL,
  message  TEXT,
  rest     TEXT NOT NULL DEFAULT ''
);
CREATE INDEX run_by_database ON run (database, outcome);

CREATE TABLE backup (
  num            INTEGER PRIMARY KEY,
  id             TEXT NOT NULL UNIQUE,
  database       TEXT NOT NULL,
  kind           TEXT NOT NULL,
  parent         TEXT,
  run            TEXT,
  started        INTEGER NOT NULL,
  ended          INTEGER NOT NULL,
  bytes          REAL,
  lineage        TEXT,
  stream         TEXT,
  from_position  INTEGER,
  to_position    INTEGER,
  from_time      INTEGER,
  to_time        INTEGER,
  consistent_at  INTEGER NOT NULL,
  self_contained INTEGER NOT NULL,
  streamed       INTEGER NOT NULL,
  lag            INTEGER NOT NULL,
  verified       INTEGER,
  rest           TEXT NOT NULL DEFAULT ''
);
CREATE INDEX backup_by_database ON backup (database);

-- Positions of data backups in streams beyond the first.
CREATE TABLE position (
  backup        INTEGER NOT NULL REFERENCES backup (num) ON DELETE CASCADE,
  stream        TEXT NOT NULL,
  from_position INTEGER NOT NULL,
  to_position   INTEGER NOT NULL,
  PRIMARY KEY (backup, stream)
) WITHOUT ROWID;

CREATE TABLE copy (
  backup        INTEGER NOT NULL REFERENCES backup (num) ON DELETE CASCADE,
  store         TEXT NOT NULL,
  landed        INTEGER NOT NULL,
  landed_stated INTEGER NOT NULL,
  locked_until  INTEGER,
  gone          INTEGER,
  spoiled_found INTEGER,
  spoiled_since INTEGER,
  bytes         REAL,
  rest          TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (backup, store)
) WITHOUT ROWID;

-- How often the facts of a database changed; '' counts changes of records that concern several.
CREATE TABLE change (
  database TEXT PRIMARY KEY,
  count    INTEGER NOT NULL
) WITHOUT ROWID;

-- Where facts come from, and how new the newest are.
CREATE TABLE source (
  name        TEXT PRIMARY KEY,
  received    INTEGER NOT NULL,
  newest_fact INTEGER
) WITHOUT ROWID;
