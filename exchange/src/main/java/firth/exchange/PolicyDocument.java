package firth.exchange;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.history.Stated;
import firth.core.model.PolicyVersion;
import java.time.Instant;
import java.util.Optional;

/**
 * A policy as it is written in the exchange format, while somebody writes it: it may hold values that cannot be taken, and
 * fields Firth does not know, which are kept.
 */
public final class PolicyDocument {

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
