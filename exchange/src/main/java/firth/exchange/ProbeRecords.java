package firth.exchange;

import firth.core.model.Component;
import firth.core.model.Probe;
import firth.core.model.Probe.Destination;
import firth.core.model.Probe.LogDisk;
import firth.core.model.Probe.LogMode;
import firth.core.model.Probe.Rights;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BiFunction;

/** Reads what runners and agents found out about a database's readiness. */
final class ProbeRecords {

    private static final Map<String, LogMode> LOGS =
            Map.of("on", LogMode.ON, "off", LogMode.OFF, "waiting-for-restart", LogMode.WAITING_FOR_RESTART);

    private ProbeRecords() {}

    static Probe probe(Fields f) {
        f.warnUnknown(Set.of(
                "type",
                "id",
                "database",
                "source",
                "at",
                "logs",
                "rights",
                "processes",
                "scheduler",
                "client",
                "server",
                "destinations",
                "logDisk",
                "names",
                "components",
                "logsFrom"));
        return new Probe(
                f.requiredId("id"),
                f.requiredId("database"),
                f.text("source").orElseThrow(() -> f.bad("source", "is missing: who found this out?")),
                f.requiredInstant("at"),
                f.word("logs", LOGS),
                f.object("rights").map(ProbeRecords::rights),
                named(f, "processes", (names, name) -> flag(names, name).orElseThrow()),
                flag(f, "scheduler"),
                f.text("client"),
                f.text("server"),
                f.objects("destinations", ProbeRecords::destination),
                f.object("logDisk").map(ProbeRecords::logDisk),
                named(f, "names", (names, name) -> names.text(name).orElseThrow()),
                f.objects("components", ProbeRecords::component),
                named(f, "logsFrom", (streams, name) -> streams.position(name, streams.value(name))));
    }

    private static Component component(Fields f) {
        f.warnUnknown(Set.of("name", "kind", "bytes"));
        return new Component(
                f.text("name").orElseThrow(() -> f.bad("name", "is missing: what is this part called?")),
                f.text("kind"),
                f.amount("bytes"));
    }

    private static Optional<Boolean> flag(Fields f, String name) {
        return f.has(name) ? Optional.of(f.flag(name, false)) : Optional.empty();
    }

    private static <T> Map<String, T> named(Fields f, String field, BiFunction<Fields, String, T> value) {
        Map<String, T> out = new TreeMap<>();
        f.object(field)
                .ifPresent(names -> names.node().fieldNames().forEachRemaining(name -> {
                    if (names.has(name)) {
                        out.put(name, value.apply(names, name));
                    }
                }));
        return out;
    }

    private static Rights rights(Fields f) {
        f.warnUnknown(Set.of("held", "needed"));
        for (String list : Set.of("held", "needed")) {
            if (!f.has(list)) {
                throw f.bad(list, "is missing: rights are judged by what is granted and what is needed");
            }
        }
        return new Rights(Set.copyOf(f.texts("held")), Set.copyOf(f.texts("needed")));
    }

    private static Destination destination(Fields f) {
        f.warnUnknown(Set.of("store", "reached", "written", "message", "freeBytes", "host"));
        return new Destination(
                f.requiredId("store"),
                flag(f, "reached"),
                flag(f, "written"),
                f.text("message"),
                f.amount("freeBytes"),
                f.text("host"));
    }

    private static LogDisk logDisk(Fields f) {
        f.warnUnknown(Set.of("freeBytes", "fillBytesPerSecond"));
        return new LogDisk(
                f.amount("freeBytes").orElseThrow(() -> f.bad("freeBytes", "is missing: how much room is left?")),
                f.rate("fillBytesPerSecond"));
    }
}
