-- Runs that no backup came of, or that did not end well: they stand in history by themselves, the others in their backup.
ALTER TABLE run ADD COLUMN bare INTEGER NOT NULL DEFAULT 1;
CREATE INDEX backup_of_run ON backup (run) WHERE run IS NOT NULL;
UPDATE run SET bare = 0 WHERE outcome = 'ok' AND EXISTS (SELECT 1 FROM backup WHERE backup.run = run.id);
CREATE TRIGGER run_added AFTER INSERT ON run WHEN new.outcome = 'ok' BEGIN
  UPDATE run SET bare = 0 WHERE num = new.num AND EXISTS (SELECT 1 FROM backup WHERE backup.run = new.id);
END;
CREATE TRIGGER run_changed AFTER UPDATE OF outcome ON run BEGIN
  UPDATE run SET bare = NOT (new.outcome = 'ok' AND EXISTS (SELECT 1 FROM backup WHERE backup.run = new.id))
    WHERE num = new.num;
END;
CREATE TRIGGER backup_added AFTER INSERT ON backup WHEN new.run IS NOT NULL BEGIN
  UPDATE run SET bare = 0 WHERE id = new.run AND outcome = 'ok';
END;
CREATE TRIGGER backup_changed AFTER UPDATE OF run ON backup WHEN new.run IS NOT old.run BEGIN
  UPDATE run SET bare = 0 WHERE id = new.run AND outcome = 'ok';
  UPDATE run SET bare = 1 WHERE id = old.run AND NOT EXISTS (SELECT 1 FROM backup WHERE backup.run = old.run);
END;

-- History in the order of time, of the fleet and of one database; logs are most of it and left out of an index of their own.
DROP INDEX backup_by_database;
CREATE INDEX backup_by_database ON backup (database, started);
CREATE INDEX other_by_database ON backup (database, started, kind) WHERE kind <> 'log';
CREATE INDEX backup_in_time ON backup (started, kind, database, ended);
CREATE INDEX other_in_time ON backup (started, kind, database, ended) WHERE kind <> 'log';
CREATE INDEX bare_in_time ON run (started, kind, database, outcome, ended) WHERE bare = 1;
CREATE INDEX bare_by_database ON run (database, started) WHERE bare = 1;
