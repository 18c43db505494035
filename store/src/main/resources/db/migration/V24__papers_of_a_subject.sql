-- What was made last of one thing, without reading all that was ever made.
CREATE INDEX paper_of_subject ON paper (sort, subject, made);
