package firth.exchange;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.history.Stated;
import firth.core.model.PolicyVersion;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * A policy as it is written in the exchange format, while somebody writes it: it may hold values that cannot be taken, and
 * fields Firth does not know, which are kept.
 */
public final class PolicyDocument {

    private static final String RULE = "rrule";

    /** What of a rule depends on where it begins. */
    private static final Pattern COUNTS = Pattern.compile("INTERVAL=(?!1(?:;|$))|COUNT=");

    private final ObjectNode node;

    private PolicyDocument(ObjectNode node) {
        this.node = node;
    }

    /** What a document says, or the first value in it that cannot be taken. */
    public record Reading(Optional<PolicyVersion> version, Optional<Flaw> flaw) {}

    /**
     * A value that cannot be taken.
     *
     * @param path where it stands, places in lists counted from 0: {@code schedules.1.within}
     */
    public record Flaw(String path, String reason) {}

    /** @param written a JSON object; anything else counts as an empty one */
    public static PolicyDocument of(JsonNode written) {
        return new PolicyDocument(
                written instanceof ObjectNode object ? object.deepCopy() : Json.MAPPER.createObjectNode());
    }

    public static PolicyDocument of(String text) {
        return new PolicyDocument(Json.object(text));
    }

    /** The same rules as a version of a policy from a moment on. */
    public PolicyDocument as(String id, int version, Instant effectiveFrom) {
        ObjectNode out = node.deepCopy();
        out.put("type", "policy");
        out.put("id", id);
        out.put("version", version);
        out.put("effectiveFrom", effectiveFrom.toString());
        out.remove("withdrawn");
        return new PolicyDocument(out);
    }

    /**
     * With a date for every rule to count its intervals from that names none and counts any: the one it has counted from so far, so that
     * no other change moves it, else a new one.
     *
     * @param before the version in force until now
     * @param zone in which that version's beginning falls on a date
     * @param fresh for rules that were not there, or were others
     */
    public PolicyDocument anchored(Optional<PolicyDocument> before, ZoneId zone, LocalDate fresh) {
        ObjectNode out = node.deepCopy();
        for (JsonNode schedule : out.path("schedules")) {
            if (schedule instanceof ObjectNode own && counts(own) && !own.hasNonNull("anchor")) {
                own.put(
                        "anchor",
                        before.flatMap(b -> b.from(own, zone)).orElse(fresh).toString());
            }
        }
        return new PolicyDocument(out);
    }

    private static boolean counts(ObjectNode schedule) {
        return COUNTS.matcher(schedule.path(RULE).asText().toUpperCase(Locale.ROOT))
                .find();
    }

    /** From when on a rule has been counting, where it was here already. */
    private Optional<LocalDate> from(ObjectNode schedule, ZoneId zone) {
        for (JsonNode own : node.path("schedules")) {
            if (own.path("id").equals(schedule.path("id")) && own.path(RULE).equals(schedule.path(RULE))) {
                return own.hasNonNull("anchor")
                        ? Optional.of(LocalDate.parse(own.path("anchor").asText()))
                        : Texts.instant(node.path("effectiveFrom").asText())
                                .map(t -> t.atZone(zone).toLocalDate());
            }
        }
        return Optional.empty();
    }

    /** Says who withdrew it before it took effect, when and why. */
    public PolicyDocument withdrawn(String by, Instant at, String why) {
        ObjectNode out = node.deepCopy();
        out.putObject("withdrawn").put("by", by).put("at", at.toString()).put("why", why);
        return new PolicyDocument(out);
    }

    /** Whether it was withdrawn before it took effect. */
    public boolean stands() {
        return !node.hasNonNull("withdrawn");
    }

    /**
     * Says who put it in force, when and why.
     *
     * @param despite why that was done although the rules contradict themselves; empty where they do not
     */
    public PolicyDocument noted(String by, Instant at, String why, String despite) {
        ObjectNode out = node.deepCopy();
        ObjectNode note = out.putObject("putInForce");
        note.put("by", by);
        note.put("at", at.toString());
        note.put("why", why);
        if (!despite.isBlank()) {
            note.put("despite", despite);
        }
        return new PolicyDocument(out);
    }

    public Reading read() {
        try {
            return new Reading(Optional.of(PolicyRecords.policy(Fields.counting(node))), Optional.empty());
        } catch (BadField e) {
            return new Reading(Optional.empty(), Optional.of(new Flaw(e.field(), e.reason())));
        }
    }

    /**
     * As it is put in force.
     *
     * @throws BadField naming the first value that cannot be taken
     */
    public Stated stated() {
        return new Stated(PolicyRecords.policy(Fields.counting(node)), line());
    }

    public JsonNode json() {
        return node;
    }

    /** As a line of a fleet file. */
    public String line() {
        return Json.canonical(node);
    }
}
