-- Runners, one a host: when they were last heard, how often they ask, and which policy versions they have taken note of.
CREATE TABLE runner (
  host  TEXT PRIMARY KEY,
  heard INTEGER NOT NULL,
  every INTEGER NOT NULL
) WITHOUT ROWID;
CREATE TABLE runner_policy (
  host         TEXT NOT NULL,
  policy       TEXT NOT NULL,
  version      INTEGER NOT NULL,
  acknowledged INTEGER NOT NULL,
  PRIMARY KEY (host, policy)
) WITHOUT ROWID;
