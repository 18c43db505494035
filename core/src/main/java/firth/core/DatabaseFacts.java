package firth.core;

import firth.core.fleet.Closure;
import firth.core.fleet.Database;
import firth.core.fleet.Hold;
import firth.core.history.History;
import java.util.List;

/** All that is known of one database; closures of others do it no harm. */
public record DatabaseFacts(Database database, History history, List<Hold> holds, List<Closure> closures) {
    public DatabaseFacts {
        holds = List.copyOf(holds);
        closures = List.copyOf(closures);
    }
}
