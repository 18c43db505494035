package firth.exchange;

import firth.core.model.Accept;
import firth.core.model.Assigned;
import firth.core.model.Kind;
import firth.core.model.Note;
import firth.core.model.Order;
import firth.core.model.Sighting;
import firth.core.model.StandingRule;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Reads who follows what, the rules that say so of new databases, what was seen on hosts, and what people bear, want and note. */
final class StandingRecords {

    private static final Map<String, Kind> KINDS =
            Arrays.stream(Kind.values()).collect(Collectors.toMap(Kind::word, Function.identity()));

    private StandingRecords() {}

    static Assigned assigned(Fields f) {
        f.warnUnknown(Set.of("type", "id", "database", "policy", "route", "from", "by", "why"));
        return new Assigned(
                f.requiredId("id"),
                f.requiredId("database"),
                f.id("policy"),
                f.id("route"),
                f.requiredInstant("from"),
                f.text("by").orElse(""),
                f.text("why").orElse(""));
    }

    static Accept accept(Fields f) {
        f.warnUnknown(Set.of("type", "id", "finding", "reason", "by", "at", "until", "withdrawn"));
        Accept accept = new Accept(
                f.requiredId("id"),
                f.text("finding").orElseThrow(() -> f.bad("finding", "is missing: which finding is accepted?")),
                f.text("reason").orElse(""),
                f.text("by").orElse(""),
                f.requiredInstant("at"),
                f.requiredInstant("until"),
                f.instant("withdrawn"));
        if (!accept.until().isAfter(accept.at())) {
            throw f.bad("until", "is not after at: it would never hold");
        }
        return accept;
    }

    static Order order(Fields f) {
        f.warnUnknown(Set.of("type", "id", "database", "kind", "store", "at", "by", "reason", "name"));
        return new Order(
                f.requiredId("id"),
                f.requiredId("database"),
                f.word("kind", KINDS).orElseThrow(() -> f.bad("kind", "is missing: full, diff, incr, log or config")),
                f.id("store"),
                f.requiredInstant("at"),
                f.text("by").orElse(""),
                f.text("reason").orElse(""),
                f.text("name"));
    }

    static Note note(Fields f) {
        f.warnUnknown(Set.of("type", "id", "database", "text", "by", "at", "withdrawn"));
        return new Note(
                f.requiredId("id"),
                f.requiredId("database"),
                f.text("text").orElseThrow(() -> f.bad("text", "is missing: what is there to say?")),
                f.text("by").orElse(""),
                f.requiredInstant("at"),
                f.instant("withdrawn"));
    }

    static StandingRule rule(Fields f) {
        f.warnUnknown(Set.of("type", "id", "order", "when", "policy", "route", "enabled"));
        Fields when = f.object("when").orElseThrow(() -> f.bad("when", "is missing: which databases fall under it?"));
        when.warnUnknown(Set.of("labels", "engine", "site", "system", "name"));
        Map<String, String> labels = new LinkedHashMap<>();
        when.object("labels")
                .ifPresent(l -> l.node()
                        .fieldNames()
                        .forEachRemaining(name -> l.text(name).ifPresent(text -> labels.put(name, text))));
        if (!f.has("policy") && !f.has("route")) {
            throw f.bad("policy", "is missing: the rule gives neither a policy nor a route");
        }
        return new StandingRule(
                f.requiredId("id"),
                f.count("order").orElse(0),
                labels,
                when.text("engine"),
                when.id("site"),
                when.text("system"),
                when.text("name"),
                f.id("policy"),
                f.id("route"),
                f.flag("enabled", true));
    }

    static Sighting sighting(Fields f) {
        f.warnUnknown(Set.of("type", "id", "database", "identity", "lineage", "host", "engine", "seen"));
        return new Sighting(
                f.requiredId("id"),
                f.text("database").orElseThrow(() -> f.bad("database", "is missing: what is it called there?")),
                f.text("identity"),
                f.id("lineage"),
                f.text("host"),
                f.text("engine"),
                f.requiredInstant("seen"));
    }
}
