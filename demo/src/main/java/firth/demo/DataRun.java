package firth.demo;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.exchange.Json;
import java.time.Duration;
import java.time.Instant;

/** What a simulated data backup tells beside what it is judged by: how it went, and what it is like. */
final class DataRun {

    static final double READ_PER_WRITTEN = 1.8;

    private static final int POINTS = 12;

    private DataRun() {}

    /** How a run went: evenly, or held up by its store in the middle third while reading went on for a while. */
    static String told(Instant started, Instant ended, double bytes, boolean slow) {
        ObjectNode out = Json.MAPPER.createObjectNode();
        Duration took = Duration.between(started, ended);
        ArrayNode course = out.putArray("course");
        for (int n = 1; n <= POINTS; n++) {
            double share = (double) n / POINTS;
            double written = slow ? held(share) : share;
            double read = slow ? Math.min(1, Math.max(written, Math.min(share * 1.4, written + 0.1))) : share;
            course.addObject()
                    .put(
                            "at",
                            started.plus(took.multipliedBy(n).dividedBy(POINTS)).toString())
                    .put("readBytes", Math.round(read * bytes * READ_PER_WRITTEN))
                    .put("writtenBytes", Math.round(written * bytes));
        }
        out.put(
                "output",
                "read " + Math.round(bytes * READ_PER_WRITTEN) + " bytes\nwrote " + Math.round(bytes) + " bytes"
                        + (slow ? "\nwaited for the store " + took.toMinutes() / 2 + " min" : "") + "\ndone");
        return out.toString();
    }

    private static double held(double share) {
        if (share <= 1 / 4.0) {
            return share * 1.6;
        }
        return share <= 3 / 4.0 ? 0.4 + (share - 0.25) * 0.3 : 0.55 + (share - 0.75) * 1.8;
    }

    static String failed(String message) {
        return Json.MAPPER
                .createObjectNode()
                .put("output", "opening the store\n" + message + "\ngave up")
                .toString();
    }

    static String traits(Ferry ferry, Instant started, double bytes) {
        ObjectNode out = Json.MAPPER
                .createObjectNode()
                .put("bytesRead", Math.round(bytes * READ_PER_WRITTEN))
                .put("parallel", ferry.gigabytes > 100 ? 4 : 2)
                .put("compressed", true)
                .put("checksummed", true);
        encrypted(ferry, started, out);
        if (!ferry.parts.isEmpty()) {
            ferry.parts.forEach(out.putArray("components")::add);
        }
        return out.toString();
    }

    /** What is said of a log besides what it holds. */
    static String logTraits(Ferry ferry, Instant started) {
        ObjectNode out = Json.MAPPER.createObjectNode().put("compressed", true);
        encrypted(ferry, started, out);
        return out.toString();
    }

    private static void encrypted(Ferry ferry, Instant started, ObjectNode out) {
        if (ferry.rhythm == Ferry.Rules.SAILINGS && started.isBefore(ferry.unencryptedSince)) {
            out.putObject("encrypted").put("key", "quay-2026");
        } else if (ferry.rhythm == Ferry.Rules.SAILINGS) {
            out.put("encrypted", false);
        }
    }

    /** The parts of a database as a field of its record, with the comma after it. */
    static String components(Ferry ferry) {
        if (ferry.parts.isEmpty()) {
            return "";
        }
        ArrayNode out = Json.MAPPER.createArrayNode();
        int all = ferry.parts.size() + ferry.partsLeftOut.size();
        for (String part : ferry.parts) {
            out.addObject().put("name", part).put("kind", "schema").put("bytes", ferry.gigabytes * 1e9 / all);
        }
        for (String part : ferry.partsLeftOut) {
            out.addObject().put("name", part).put("kind", "schema").put("bytes", ferry.gigabytes * 1e9 / all);
        }
        return "\"components\":" + out + ",";
    }
}
