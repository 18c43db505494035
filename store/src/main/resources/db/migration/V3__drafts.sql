-- Policies as somebody is writing them: one draft a policy, in the exchange format, in force nowhere.
CREATE TABLE draft (
  policy   TEXT PRIMARY KEY,
  saved    INTEGER NOT NULL,
  document TEXT NOT NULL
) WITHOUT ROWID;
