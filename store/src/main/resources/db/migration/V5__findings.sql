-- Findings as Firth came to know them: when each was first seen, and when it was found to be gone.
CREATE TABLE finding (
  key       TEXT NOT NULL,
  first     INTEGER NOT NULL,
  gone      INTEGER,
  severity  TEXT NOT NULL,
  databases TEXT NOT NULL,
  title     TEXT NOT NULL,
  PRIMARY KEY (key, first)
) WITHOUT ROWID;
CREATE INDEX finding_open ON finding (key) WHERE gone IS NULL;
CREATE INDEX finding_gone ON finding (gone) WHERE gone IS NOT NULL;
