package firth.core;

import firth.core.fleet.Database;
import firth.core.fleet.Hold;
import firth.core.history.History;
import java.util.List;

/** All that is known of one database. */
public record DatabaseFacts(Database database, History history, List<Hold> holds) {
    public DatabaseFacts {
        holds = List.copyOf(holds);
    }
}
