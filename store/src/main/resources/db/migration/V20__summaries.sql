-- What pages need of each database's answer, so that a start need not look at every history first. Worked out from the facts, which stay
-- the truth: what rests on other facts or rules, or was made by another program, is not used.
CREATE TABLE summary (
  database TEXT PRIMARY KEY,
  program  TEXT NOT NULL,
  changes  INTEGER NOT NULL,
  rules    TEXT NOT NULL,
  begins   INTEGER NOT NULL,
  until    INTEGER NOT NULL,
  content  BLOB NOT NULL
) WITHOUT ROWID;
