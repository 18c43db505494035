-- Lists of copies somebody wants deleted, who approved them, and what became of each copy.
CREATE TABLE purge (
  id       TEXT PRIMARY KEY,
  -- The one store it is of; null: of the whole fleet.
  store    TEXT,
  state    TEXT NOT NULL,
  asked_by TEXT NOT NULL,
  asked_at INTEGER NOT NULL,
  reason   TEXT NOT NULL,
  -- How many others must approve it.
  approvals INTEGER NOT NULL,
  -- What was proved when it was asked for, as JSON, and SHA-256 over that and every item as it was asked for.
  proof    TEXT NOT NULL,
  hash     TEXT NOT NULL,
  -- Why it stands still; empty where it does not.
  trouble  TEXT NOT NULL DEFAULT '',
  -- What was found when all of it was carried out, as JSON; null before.
  after    TEXT
) WITHOUT ROWID;

CREATE TABLE purge_approval (
  purge  TEXT NOT NULL REFERENCES purge (id),
  person TEXT NOT NULL,
  at     INTEGER NOT NULL,
  PRIMARY KEY (purge, person)
) WITHOUT ROWID;

CREATE TABLE purge_item (
  purge    TEXT NOT NULL REFERENCES purge (id),
  num      INTEGER NOT NULL,
  database TEXT NOT NULL,
  backup   TEXT NOT NULL,
  kind     TEXT NOT NULL,
  store    TEXT NOT NULL,
  path     TEXT NOT NULL,
  bytes    REAL NOT NULL,
  checksum TEXT NOT NULL,
  landed   INTEGER NOT NULL,
  why      TEXT NOT NULL,
  state    TEXT NOT NULL DEFAULT 'waiting',
  -- Why it was dropped, or what the agent said.
  told     TEXT NOT NULL DEFAULT '',
  -- What the agent measured was freed.
  freed    REAL,
  at       INTEGER,
  PRIMARY KEY (purge, num)
) WITHOUT ROWID;
CREATE INDEX purge_item_of_copy ON purge_item (backup, store);

-- The programs at stores that ask for work.
CREATE TABLE agent (
  store TEXT PRIMARY KEY,
  heard INTEGER NOT NULL,
  every INTEGER NOT NULL
) WITHOUT ROWID;
