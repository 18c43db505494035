-- Records that somebody said were of another database, kind or lineage than was known, and whether that was taken.
CREATE TABLE turned (
  record TEXT NOT NULL,
  at     INTEGER NOT NULL,
  who    TEXT NOT NULL,
  field  TEXT NOT NULL,
  known  TEXT NOT NULL,
  said   TEXT NOT NULL,
  -- The database it was known to be of.
  of     TEXT NOT NULL,
  taken  INTEGER NOT NULL,
  PRIMARY KEY (record, field, said, who)
) WITHOUT ROWID;
