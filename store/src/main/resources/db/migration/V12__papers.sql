-- What Firth made for people and keeps as it was: restores under way, rehearsals, reports, sheets.
CREATE TABLE paper (
  id       TEXT PRIMARY KEY,
  -- restore, rehearsal, report
  sort     TEXT NOT NULL,
  -- What it is of: a database, a policy, ...; empty for the fleet.
  subject  TEXT NOT NULL,
  by       TEXT NOT NULL,
  made     INTEGER NOT NULL,
  -- The document itself.
  document TEXT NOT NULL
) WITHOUT ROWID;
CREATE INDEX paper_of_sort ON paper (sort, made);
