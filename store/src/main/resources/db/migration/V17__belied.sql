-- What agents told of a place, to be held against what is listed there later.
CREATE INDEX purge_item_at_place ON purge_item (store, ltrim(path, '/'));
