package firth.core.findings;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/**
 * Findings of many databases, those of one cause as one that names them all (docs/semantics.md, "Findings"). It keeps what it was asked
 * for, so that to ask again after a few databases have changed takes little more than those do; the answer is that of a new one.
 */
public final class Together {

    /** Of each database, what is wrong with it. */
    private final Map<String, List<Finding>> known = new HashMap<>();

    /** Of each key, the databases that have it, in the order of their ids. */
    private final Map<String, TreeMap<String, List<Finding>>> byKey = new HashMap<>();

    private Map<String, String> names = Map.of();

    /** Everything wrong with the databases, in order. */
    private List<Keyed> inOrder = new ArrayList<>();

    /** A finding with its key, which is put together anew each time it is asked for. */
    private record Keyed(String key, Finding finding) {}

    private static final Comparator<Keyed> ORDER =
            Comparator.comparing(Keyed::finding, Findings.RANK).thenComparing(Keyed::key);

    /**
     * What is wrong, in order.
     *
     * @param each what is wrong with each database, by its id
     * @param besides what else is wrong
     * @param names of the databases by their ids
     */
    public synchronized List<Finding> of(
            Map<String, List<Finding>> each, List<Finding> besides, Map<String, String> names) {
        if (!names.equals(this.names)) {
            known.clear();
            byKey.clear();
            inOrder.clear();
            this.names = Map.copyOf(names);
        }
        change(each);
        Map<String, List<Finding>> others = new HashMap<>();
        besides.forEach(
                f -> others.computeIfAbsent(f.key(), k -> new ArrayList<>(1)).add(f));
        List<Keyed> all = new ArrayList<>(inOrder.size() + others.size());
        inOrder.stream().filter(k -> !others.containsKey(k.key)).forEach(all::add);
        others.forEach((key, own) -> {
            List<Finding> same = ofDatabases(key);
            same.addAll(own);
            all.add(new Keyed(key, one(same)));
        });
        all.sort(ORDER);
        return all.stream().map(Keyed::finding).toList();
    }

    /** Takes over what has changed of the databases. */
    private void change(Map<String, List<Finding>> each) {
        Set<String> keys = new HashSet<>();
        Set<String> gone = new HashSet<>(known.keySet());
        gone.removeAll(each.keySet());
        gone.forEach(database -> forget(database, keys));
        each.forEach((database, now) -> {
            // A list that is still the same one is not looked into.
            if (!now.equals(known.get(database))) {
                forget(database, keys);
                known.put(database, now);
                for (Finding f : now) {
                    keys.add(f.key());
                    byKey.computeIfAbsent(f.key(), k -> new TreeMap<>())
                            .computeIfAbsent(database, d -> new ArrayList<>(1))
                            .add(f);
                }
            }
        });
        if (!keys.isEmpty()) {
            inOrder.removeIf(k -> keys.contains(k.key));
            keys.stream().filter(byKey::containsKey).forEach(key -> inOrder.add(new Keyed(key, one(ofDatabases(key)))));
            inOrder.sort(ORDER);
        }
    }

    private void forget(String database, Set<String> keys) {
        List<Finding> before = known.remove(database);
        for (Finding f : before == null ? List.<Finding>of() : before) {
            keys.add(f.key());
            byKey.computeIfPresent(f.key(), (key, own) -> {
                own.remove(database);
                return own.isEmpty() ? null : own;
            });
        }
    }

    private List<Finding> ofDatabases(String key) {
        List<Finding> out = new ArrayList<>();
        byKey.getOrDefault(key, new TreeMap<>()).values().forEach(out::addAll);
        return out;
    }

    private Finding one(List<Finding> same) {
        if (same.size() == 1) {
            return same.get(0);
        }
        same.sort(Findings.RANK);
        Set<String> databases = new LinkedHashSet<>();
        Set<String> facts = new LinkedHashSet<>();
        for (Finding f : same) {
            databases.addAll(f.databases());
            facts.addAll(f.facts());
        }
        List<String> others =
                databases.stream().skip(1).map(d -> names.getOrDefault(d, d)).toList();
        return same.get(0).shared(List.copyOf(databases), others, List.copyOf(facts));
    }
}
