package firth.core.model;

import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;

/**
 * Which databases stand by for which others (docs/semantics.md, "Standbys"): what is backed up from a standby counts for its
 * primary, and the two are one database.
 */
public final class Standbys {

    private final Map<String, String> primaries = new HashMap<>();
    private final Map<String, Set<String>> standbys = new TreeMap<>();

    private Standbys() {}

    public static Standbys of(Collection<Database> databases) {
        Map<String, String> follows = new HashMap<>();
        databases.forEach(d -> follows.put(d.id(), d.particulars().standbyOf().orElse("")));
        Standbys out = new Standbys();
        for (String id : follows.keySet()) {
            String primary = first(id, follows);
            if (!primary.equals(id)) {
                out.primaries.put(id, primary);
                out.standbys.computeIfAbsent(primary, p -> new TreeSet<>()).add(id);
            }
        }
        return out;
    }

    /** The end of the line of those followed; itself where that is not known, or leads back. */
    private static String first(String id, Map<String, String> follows) {
        Set<String> seen = new HashSet<>();
        String at = id;
        while (seen.add(at)) {
            String next = follows.getOrDefault(at, "");
            if (!follows.containsKey(next)) {
                return at;
            }
            at = next;
        }
        return id;
    }

    public boolean isStandby(String database) {
        return primaries.containsKey(database);
    }

    /** The database that another's backups count for: its primary, or itself. */
    public String primaryOf(String database) {
        return primaries.getOrDefault(database, database);
    }

    /** Those whose backups count for a database: itself, then its standbys by id. */
    public List<String> membersOf(String database) {
        Set<String> own = standbys.getOrDefault(database, Set.of());
        return Stream.concat(Stream.of(database), own.stream()).toList();
    }
}
