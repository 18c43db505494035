-- Rules by which what is obsolete of a policy's databases goes by itself, put in force by two people.
CREATE TABLE standing_purge (
  num       INTEGER PRIMARY KEY,
  policy    TEXT NOT NULL,
  -- What it says, as JSON, and SHA-256 over that, its number and its policy.
  rule      TEXT NOT NULL,
  hash      TEXT NOT NULL,
  reason    TEXT NOT NULL,
  -- proposed, in-force, withdrawn or replaced
  state     TEXT NOT NULL,
  by        TEXT NOT NULL,
  at        INTEGER NOT NULL,
  -- Who put it in force, and when.
  agreed_by TEXT,
  agreed_at INTEGER,
  -- When it was withdrawn or replaced.
  ended_at  INTEGER
);
CREATE INDEX standing_purge_of_policy ON standing_purge (policy, state);

-- What became of each night: the list that was made for it, or why there is none.
CREATE TABLE standing_night (
  num    INTEGER NOT NULL REFERENCES standing_purge (num),
  night  TEXT NOT NULL,
  purge  TEXT REFERENCES purge (id),
  at     INTEGER NOT NULL,
  said   TEXT NOT NULL,
  PRIMARY KEY (num, night)
) WITHOUT ROWID;
CREATE INDEX standing_night_of_purge ON standing_night (purge);
