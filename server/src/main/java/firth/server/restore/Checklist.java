package firth.server.restore;

import firth.engines.Recipe;
import firth.server.documents.Document;
import firth.wording.PositionWords;
import firth.wording.Wording;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** What is to be done to bring a database back, in the order of the states it goes through. */
final class Checklist {

    static final List<RestoreView.PlanState> STATES = List.of(
            new RestoreView.PlanState("ready", "Before anything"),
            new RestoreView.PlanState("instance", "Instance up"),
            new RestoreView.PlanState("config", "Configuration restored"),
            new RestoreView.PlanState("files", "Files restored"),
            new RestoreView.PlanState("logs", "Logs applied"),
            new RestoreView.PlanState("open", "Open on a new lineage"));

    private static final DateTimeFormatter MOMENT =
            DateTimeFormatter.ofPattern("EEE d MMM uuuu HH:mm:ss", Locale.ENGLISH);

    private final RestoreView plan;
    private final RestoreView.RestoreBegun where;
    private final List<RestoreView.CheckItem> items = new ArrayList<>();

    private Checklist(RestoreView plan, RestoreView.RestoreBegun where) {
        this.plan = plan;
        this.where = where;
    }

    /**
     * The lines of a plan's best way.
     *
     * @param plan one that is possible
     * @param keys the names of all encryption keys it asks for
     */
    static List<RestoreView.CheckItem> of(RestoreView plan, RestoreView.RestoreBegun where, Collection<String> keys) {
        Checklist list = new Checklist(plan, where);
        list.ready(keys);
        list.add("instance", "Bring up an instance" + on(where.host()) + " for " + where.name(), Map.of());
        for (RestoreView.PlanStep s : plan.ways().get(0).steps()) {
            list.step(s);
        }
        list.open();
        return list.items;
    }

    private static String on(String host) {
        return host.isEmpty() ? "" : " on " + host;
    }

    private void ready(Collection<String> keys) {
        RestoreView.Destination d = plan.destination();
        add(
                "ready",
                d.bytes() == null
                        ? "Check that there is room: how much the database takes is not known"
                        : "Check that " + Wording.bytes(d.bytes()) + " are free" + on(where.host()),
                Map.of());
        if (!keys.isEmpty()) {
            add("ready", "Have the encryption keys at hand: " + String.join(", ", keys), Map.of());
        }
        if (where.over()) {
            add(
                    "ready",
                    "The old " + plan.name() + " is written over: stop it, and take a last log backup if it still runs",
                    Map.of());
        }
    }

    private void step(RestoreView.PlanStep s) {
        Map<String, String> details = new LinkedHashMap<>();
        Optional.ofNullable(s.path()).ifPresent(p -> details.put("path", p));
        Optional.ofNullable(s.checksum()).ifPresent(c -> details.put("checksum", c));
        Optional.ofNullable(s.key()).ifPresent(k -> details.put("key", k));
        String size = s.bytes() == null ? "" : ", " + Wording.bytes(s.bytes());
        String time = s.seconds() == null ? "" : ", about " + Wording.measured(seconds(s.seconds()));
        switch (s.kind()) {
            case "config" ->
                add("config", "Restore the configuration from " + s.backup() + " in " + s.storeName() + size, details);
            case "log" -> {
                String until = s.at() == null ? "" : " up to " + moment(s.at());
                String which = s.count() == 1
                        ? "the log " + s.backup()
                        : s.count() + " logs, " + s.backup() + " to " + s.last() + ",";
                add(
                        "logs",
                        "Apply " + which + " of " + s.stream() + " from " + s.storeName() + until + size + time,
                        details);
            }
            default -> {
                where.paths().forEach(p -> details.put("files under " + p.from(), "to " + p.to()));
                add(
                        "files",
                        "Restore the " + kind(s.kind()) + " " + s.backup() + " from " + s.storeName() + size + time,
                        details);
            }
        }
    }

    private void open() {
        String lineage = plan.ways().get(0).lineage();
        if (plan.lastCommit() != null) {
            add(
                    "logs",
                    "Let it apply all logs of lineage " + lineage + " without a target: the last change in them is of "
                            + moment(plan.lastCommit()) + ", and a later target would be waited for",
                    Map.of());
        } else if (plan.target() != null) {
            add("logs", "Stop in lineage " + lineage + " at " + moment(plan.target()) + ", not later", Map.of());
        }
        plan.positions()
                .forEach(
                        p -> add("logs", "Stop at position " + position(p.position()) + " of " + p.stream(), Map.of()));
        add("open", "Open " + where.name() + ": its logs go on as a new lineage", Map.of());
        add("open", "Check that what was to be saved is there", Map.of());
        add("open", "Take a full: until then the new lineage rests on the old one's backups", Map.of());
    }

    private String position(long position) {
        return PositionWords.both(Optional.ofNullable(plan.engine()), position);
    }

    private void add(String state, String text, Map<String, String> details) {
        items.add(new RestoreView.CheckItem("i" + (items.size() + 1), state, text, details, null, null));
    }

    private static String kind(String word) {
        return switch (word) {
            case "diff" -> "differential";
            case "incr" -> "incremental";
            default -> word;
        };
    }

    private String moment(Instant at) {
        return moment(at, plan.zone());
    }

    private static String moment(Instant at, String zone) {
        return MOMENT.format(at.atZone(ZoneId.of(zone))) + " " + zone;
    }

    private static Duration seconds(double seconds) {
        return Duration.ofMillis(Math.round(seconds * 1000));
    }

    /** A log the plan reads, one by one, for whoever does it without Firth. */
    record LogLine(
            String backup, String store, String stream, long from, long to, String path, String checksum, String key) {}

    /** The list as a document. */
    static Document sheet(RestoreView.KeptRestore kept, List<LogLine> logs, @Nullable Recipe recipe) {
        RestoreView plan = kept.plan();
        Optional<String> engine = Optional.ofNullable(plan.engine());
        List<Document.Section> out = new ArrayList<>();
        RestoreView.PlanWay way = plan.ways().get(0);
        String expected = way.secondsKnown()
                ? "Expected to take " + Wording.measured(seconds(way.seconds()))
                        + (plan.factor() == null
                                ? ""
                                : ", or " + Wording.measured(seconds(way.seconds() * plan.factor()))
                                        + " going by drills")
                : "How long it takes is not known";
        String promised = plan.promised() == null
                ? "; no restore time is promised."
                : "; promised are " + Wording.duration(seconds(plan.promised())) + ".";
        out.add(new Document.Section("", new Document.Text(expected + promised)));
        for (RestoreView.PlanState state : STATES) {
            List<Document.Tick> ticks = kept.items().stream()
                    .filter(i -> i.state().equals(state.id()))
                    .map(i -> new Document.Tick(
                            i.text(),
                            i.details().entrySet().stream()
                                    .map(d -> d.getKey() + ": " + d.getValue())
                                    .toList(),
                            i.done() == null ? "" : moment(i.done(), plan.zone()) + ", " + i.by()))
                    .toList();
            if (!ticks.isEmpty()) {
                out.add(new Document.Section(state.text(), new Document.Ticks(ticks)));
            }
        }
        if (recipe != null) {
            out.add(new Document.Section(
                    "In the engine's own settings and commands",
                    new Document.Ticks(recipe.lines().stream()
                            .map(l -> new Document.Tick(l, List.of(), ""))
                            .toList())));
        }
        if (!logs.isEmpty()) {
            out.add(new Document.Section(
                    "The logs, in order",
                    new Document.Table(
                            List.of("Log", "Store", "Stream", "From", "To", "Path, checksum"),
                            logs.stream()
                                    .map(l -> List.of(
                                            l.backup(),
                                            l.store(),
                                            l.stream(),
                                            PositionWords.both(engine, l.from()),
                                            PositionWords.both(engine, l.to()),
                                            (l.path() + " " + l.checksum()).strip()))
                                    .toList())));
        }
        String to = plan.target() == null
                ? plan.positions().stream()
                        .map(p -> "position " + PositionWords.both(engine, p.position()) + " of " + p.stream())
                        .reduce((a, b) -> a + ", " + b)
                        .orElse("")
                : moment(plan.target(), plan.zone());
        return new Document(
                "Restore " + plan.name() + (kept.name().equals(plan.database()) ? "" : " as " + kept.name()),
                "To " + to + ", from what is left as of " + moment(plan.asOf(), plan.zone()) + ".",
                out,
                "Made by Firth for " + kept.by() + ", " + moment(kept.at(), plan.zone()) + ". " + kept.id());
    }
}
