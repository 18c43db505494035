package firth.server.reports;

import firth.core.model.Database;
import firth.core.time.Span;
import firth.server.evaluation.FleetNow;
import firth.server.platform.BadRequest;
import java.time.Instant;
import java.util.function.Predicate;

/**
 * What a report is of.
 *
 * @param by fleet, policy, owner, label or database
 * @param of which one; a label as {@code name=value}
 */
public record ReportScope(String by, String of, Span period, Instant asOf) {

    /** Which databases it is about, by the rules in force as of it. */
    Predicate<Database> databases() {
        return switch (by) {
            case "fleet" -> d -> true;
            case "policy" -> d -> d.policyAt(asOf).filter(of::equals).isPresent();
            case "owner" -> d -> d.particulars().owner().filter(of::equals).isPresent();
            case "database" -> d -> d.id().equals(of);
            case "label" -> {
                int is = of.indexOf('=');
                if (is < 1) {
                    throw new BadRequest("of", "is not NAME=VALUE");
                }
                String name = of.substring(0, is);
                String value = of.substring(is + 1);
                yield d -> value.equals(d.particulars().labels().get(name));
            }
            default -> throw new BadRequest("by", "is none of fleet, policy, owner, label, database");
        };
    }

    String title(FleetNow fleet) {
        return switch (by) {
            case "fleet" -> "the fleet";
            case "policy" ->
                "policy " + fleet.fleet().versionAt(of, asOf).map(v -> v.name()).orElse(of);
            case "owner" -> of;
            case "label" -> of.replace("=", ": ");
            default -> of;
        };
    }
}
