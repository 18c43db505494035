-- In which order databases changed: each transaction that changes anything has the next number, so that what changed since one
-- is found without looking at all.
ALTER TABLE change ADD COLUMN at INTEGER NOT NULL DEFAULT 0;
UPDATE change SET at = (SELECT sum(count) FROM change);
CREATE INDEX change_at ON change (at);
