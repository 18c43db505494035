package firth.engines.mariadb;

import firth.core.model.Lineage;
import firth.engines.Known;
import firth.engines.mariadb.MariadbFiles.Log;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Binary logs of a server that are numbered in one go. When a server is told to forget its logs ({@code RESET MASTER}) their numbers begin
 * again, and the places in them: what came before and what comes after are histories that have nothing to do with one another, a lineage
 * each (docs/engines.md).
 */
final class Numbering {

    /** A clock that was put back by no more makes no logs of another numbering. */
    private static final Duration PUT_BACK = Duration.ofHours(1);

    private static final DateTimeFormatter STAMP =
            DateTimeFormatter.ofPattern("yyyyMMdd'T'HHmmss'Z'", Locale.ROOT).withZone(ZoneOffset.UTC);
    private static final String BETWEEN = " ";

    private final String lineage;
    private final Instant opened;
    private final Map<Long, List<Log>> files = new HashMap<>();
    private final NavigableMap<Long, Log> logs = new TreeMap<>();

    private Numbering(String lineage, Instant opened) {
        this.lineage = lineage;
        this.opened = opened;
    }

    /** Its lineage's id, which does not change as logs come and go. */
    String lineage() {
        return lineage;
    }

    /** The logs by their numbers, of the same log in two files the one that holds more. */
    NavigableMap<Long, Log> logs() {
        return logs;
    }

    /** All files of one log. */
    List<Log> files(long number) {
        return files.getOrDefault(number, List.of());
    }

    /** What a log of it is called within its database. */
    String name(Log log) {
        return isFirst() ? log.name().name() : log.name().name() + ":" + lineage;
    }

    private boolean isFirst() {
        return lineage.equals(Lineage.FIRST.id());
    }

    Lineage told() {
        return isFirst() ? Lineage.FIRST : new Lineage(lineage, Optional.empty(), Map.of(), Optional.of(opened));
    }

    private void add(Log log) {
        long number = log.name().file();
        files.computeIfAbsent(number, n -> new ArrayList<>()).add(log);
        logs.merge(number, log, (a, b) -> b.facts().end() > a.facts().end() ? b : a);
    }

    /** Whether a log that was begun no earlier than all of these goes on with their numbers, or is one of them in another file. */
    private boolean goesOnWith(Log log) {
        Map.Entry<Long, Log> same = logs.ceilingEntry(log.name().file());
        if (same == null) {
            return true;
        }
        Instant begun = same.getValue().facts().created();
        Instant now = log.facts().created();
        return same.getKey() == log.name().file()
                ? begun.equals(now)
                : Duration.between(begun, now).compareTo(PUT_BACK) <= 0;
    }

    /** Whether the place a backup tells of lies in these logs, and they were begun by when it was made. */
    private boolean holds(Coordinate place, Instant made) {
        Log log = logs.get(place.file());
        return log != null
                && log.facts().end() >= place.offset()
                && !log.facts().created().isAfter(made);
    }

    /**
     * Logs parted into numberings, the earliest first; there is always one. Those that were told of before are found again by their logs,
     * and listed for as long as the notes are kept.
     *
     * @param identity of the server, by which it is known
     */
    static List<Numbering> of(List<Log> all, String identity, Known known) {
        List<Log> ordered = new ArrayList<>(all);
        ordered.sort(Comparator.comparing((Log l) -> l.facts().created())
                .thenComparing(l -> l.name().file())
                .thenComparing(Log::file));
        List<List<Log>> runs = new ArrayList<>();
        Numbering run = new Numbering("", Instant.EPOCH);
        for (Log log : ordered) {
            if (runs.isEmpty() || !run.goesOnWith(log)) {
                run = new Numbering("", Instant.EPOCH);
                runs.add(new ArrayList<>());
            }
            run.add(log);
            runs.get(runs.size() - 1).add(log);
        }
        Map<String, Numbering> out = told(identity, known);
        for (List<Log> logs : runs) {
            Numbering of = logs.stream()
                    .flatMap(l -> known.get(key(identity, l)).stream())
                    .flatMap(id -> Optional.ofNullable(out.get(id)).stream())
                    .findFirst()
                    .orElseGet(() -> begun(logs.get(0).facts().created(), out));
            for (Log l : logs) {
                of.add(l);
                known.put(key(identity, l), of.lineage);
            }
        }
        if (out.isEmpty()) {
            begun(Instant.EPOCH, out);
        }
        known.put(
                key(identity),
                String.join(
                        BETWEEN,
                        out.values().stream()
                                .map(n -> n.lineage + "=" + n.opened)
                                .toList()));
        return List.copyOf(out.values());
    }

    private static Numbering begun(Instant at, Map<String, Numbering> all) {
        String id = all.isEmpty() ? Lineage.FIRST.id() : "reset-" + STAMP.format(at);
        return all.computeIfAbsent(id, i -> new Numbering(i, at));
    }

    private static Map<String, Numbering> told(String identity, Known known) {
        Map<String, Numbering> out = new LinkedHashMap<>();
        for (String one : known.get(key(identity)).orElse("").split(BETWEEN)) {
            int at = one.indexOf('=');
            if (at > 0) {
                String id = one.substring(0, at);
                out.put(id, new Numbering(id, Instant.parse(one.substring(at + 1))));
            }
        }
        return out;
    }

    private static String key(String identity) {
        return "numberings|" + identity;
    }

    private static String key(String identity, Log log) {
        return "numbering|" + identity + "|" + log.name().file() + "|"
                + log.facts().created();
    }

    /** The one a backup belongs to: the latest whose logs hold its place, else the latest that had begun when it was made. */
    static Numbering of(List<Numbering> all, Optional<Coordinate> place, Instant made) {
        Numbering out = all.get(0);
        for (Numbering n : all) {
            if (!n.opened.isAfter(made)) {
                out = n;
            }
        }
        for (Numbering n : all) {
            if (place.filter(p -> n.holds(p, made)).isPresent()) {
                out = n;
            }
        }
        return out;
    }
}
