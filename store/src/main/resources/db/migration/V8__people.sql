-- What people and programs did, each entry chained to the one before by hash; entries are only ever added.
CREATE TABLE deed (
  number   INTEGER PRIMARY KEY,
  at       INTEGER NOT NULL,
  who      TEXT NOT NULL,
  act      TEXT NOT NULL,
  about    TEXT NOT NULL,
  detail   TEXT NOT NULL,
  previous TEXT NOT NULL,
  hash     TEXT NOT NULL
);
CREATE INDEX deed_about ON deed (about);
CREATE TRIGGER deed_stays BEFORE UPDATE ON deed BEGIN SELECT raise(ABORT, 'the record is only added to'); END;
CREATE TRIGGER deed_is_kept BEFORE DELETE ON deed BEGIN SELECT raise(ABORT, 'the record is only added to'); END;

CREATE TABLE person (
  id           TEXT PRIMARY KEY,
  name         TEXT NOT NULL,
  -- Null where somebody else vouches for them.
  password     TEXT,
  roles        TEXT NOT NULL,
  away         INTEGER NOT NULL DEFAULT 0,
  failures     INTEGER NOT NULL DEFAULT 0,
  locked_until INTEGER
) WITHOUT ROWID;

-- Kept by the hash of what the browser shows, so that nobody who reads this can be anybody.
CREATE TABLE session (
  hash    TEXT PRIMARY KEY,
  person  TEXT NOT NULL REFERENCES person (id),
  started INTEGER NOT NULL,
  seen    INTEGER NOT NULL
) WITHOUT ROWID;

CREATE TABLE token (
  hash    TEXT PRIMARY KEY,
  id      TEXT NOT NULL UNIQUE,
  name    TEXT NOT NULL,
  roles   TEXT NOT NULL,
  -- The one store an agent is of, the one host a runner is on; null where it is neither.
  place   TEXT,
  made    INTEGER NOT NULL,
  by      TEXT NOT NULL,
  until   INTEGER,
  used    INTEGER,
  revoked INTEGER
) WITHOUT ROWID;
