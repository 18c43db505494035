-- Whether a source is a program, which goes on telling as time goes on: then a page stands at the clock.
ALTER TABLE source ADD COLUMN program INTEGER NOT NULL DEFAULT 0;
