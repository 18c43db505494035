package firth.core.history;

import firth.core.model.Closure;
import firth.core.model.Database;
import firth.core.model.Hold;
import java.util.List;

/** All that is known of one database; closures of others do it no harm. */
public record DatabaseFacts(Database database, History history, List<Hold> holds, List<Closure> closures) {
    public DatabaseFacts {
        holds = List.copyOf(holds);
        closures = List.copyOf(closures);
    }
}
