-- What each program delivered in the hour that is not over: when it is, the record says it in one entry.
CREATE TABLE delivery (
  who        TEXT NOT NULL,
  source     TEXT NOT NULL,
  hour       INTEGER NOT NULL,
  deliveries INTEGER NOT NULL,
  lines      INTEGER NOT NULL,
  added      INTEGER NOT NULL,
  updated    INTEGER NOT NULL,
  rejected   INTEGER NOT NULL,
  first      INTEGER NOT NULL,
  last       INTEGER NOT NULL,
  digest     TEXT NOT NULL,
  PRIMARY KEY (who, source)
) WITHOUT ROWID;
