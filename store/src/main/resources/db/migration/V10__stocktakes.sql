-- Comparisons of what a store lists with what the catalog takes to be there.
CREATE TABLE stocktake (
  id       TEXT PRIMARY KEY,
  store    TEXT NOT NULL,
  asked_by TEXT NOT NULL,
  asked_at INTEGER NOT NULL,
  -- When the listing was begun; null while it is waited for.
  taken    INTEGER,
  -- asked, taken, refused
  state    TEXT NOT NULL,
  -- Why it was refused; else who listed.
  told     TEXT NOT NULL DEFAULT '',
  agreed   INTEGER NOT NULL DEFAULT 0,
  files    INTEGER NOT NULL DEFAULT 0,
  unplaced INTEGER NOT NULL DEFAULT 0
) WITHOUT ROWID;
CREATE INDEX stocktake_of_store ON stocktake (store, taken);

CREATE TABLE stock_find (
  stocktake TEXT NOT NULL REFERENCES stocktake (id),
  num       INTEGER NOT NULL,
  what      TEXT NOT NULL,
  database  TEXT,
  backup    TEXT,
  path      TEXT NOT NULL,
  told      TEXT NOT NULL,
  size      INTEGER,
  expected  REAL,
  written   INTEGER,
  -- When the copy was last seen to be right; null where it never was.
  since     INTEGER,
  -- The copy as the catalog had it, so that what somebody decides can be undone.
  landed    INTEGER,
  gone      INTEGER,
  -- When it had been found spoiled before.
  found     INTEGER,
  -- Whether a list somebody approved had it.
  asked     INTEGER NOT NULL DEFAULT 0,
  -- open, dropped, adopted, to-remove
  state     TEXT NOT NULL DEFAULT 'open',
  by        TEXT,
  decided   INTEGER,
  PRIMARY KEY (stocktake, num)
) WITHOUT ROWID;
