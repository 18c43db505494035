-- Every look at Watch asks for the items that were missing, and every batch for the next that wait.
CREATE INDEX purge_item_in_state ON purge_item (purge, state, num);
