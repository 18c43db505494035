-- Who is told of what, and what was sent.
CREATE TABLE sending_list (
  id       TEXT PRIMARY KEY,
  -- Since when it is there: nothing earlier is sent to it.
  since    INTEGER NOT NULL,
  document TEXT NOT NULL
) WITHOUT ROWID;

CREATE TABLE message (
  -- The list and what it is about: nothing is sent twice.
  id       TEXT PRIMARY KEY,
  list     TEXT NOT NULL,
  -- mail or webhook
  way      TEXT NOT NULL,
  title    TEXT NOT NULL,
  document TEXT NOT NULL,
  made     INTEGER NOT NULL,
  -- waiting, sending, sent, failed, unknown
  state    TEXT NOT NULL,
  tries    INTEGER NOT NULL DEFAULT 0,
  next     INTEGER NOT NULL,
  told     TEXT NOT NULL DEFAULT ''
) WITHOUT ROWID;
CREATE INDEX message_by_state ON message (state, next);
