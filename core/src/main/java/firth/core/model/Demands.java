package firth.core.model;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What every backup under a policy must be (docs/semantics.md, "Demands").
 *
 * @param verifiedWithin so soon after a data backup has ended it must have been verified
 * @param configAfterData so soon after a data backup has ended a config backup must have started
 * @param evidence how well each must be known
 * @param evidenceWithin so soon after it has ended
 */
public record Demands(
        boolean compressed,
        boolean encrypted,
        boolean checksummed,
        Optional<Duration> verifiedWithin,
        Optional<Duration> configAfterData,
        Evidence evidence,
        Duration evidenceWithin) {

    /** How long there is to find out more where a policy does not say. */
    public static final Duration EVIDENCE_WITHIN = Duration.ofDays(1);

    public static final Demands NONE =
            new Demands(false, false, false, Optional.empty(), Optional.empty(), Evidence.TOLD, EVIDENCE_WITHIN);

    /** One thing demanded of a single backup, as people say it. */
    public enum Demand implements Worded {
        COMPRESSED("compressed"),
        ENCRYPTED("encrypted"),
        CHECKSUMMED("checksummed"),
        VERIFIED("verified"),
        EVIDENCE("evidenced");

        private final String word;

        Demand(String word) {
            this.word = word;
        }

        @Override
        public String word() {
            return word;
        }
    }

    public boolean none() {
        return equals(NONE);
    }

    /**
     * What is demanded of a backup and not kept; what nobody said is not kept.
     *
     * @param data whether it is a data backup: only those need to be verified
     * @param known how well the best known of its copies is
     */
    public List<Demand> broken(
            Traits traits, boolean data, Instant ended, Optional<Instant> verified, Evidence known, Instant now) {
        List<Demand> out = new ArrayList<>();
        if (compressed && !traits.compressed().orElse(false)) {
            out.add(Demand.COMPRESSED);
        }
        if (encrypted && !traits.encrypted().orElse(false)) {
            out.add(Demand.ENCRYPTED);
        }
        if (checksummed && !traits.checksummed().orElse(false)) {
            out.add(Demand.CHECKSUMMED);
        }
        Optional<Instant> until = verifiedWithin.map(ended::plus);
        if (data && until.isPresent() && verified.filter(v -> !v.isAfter(now)).isEmpty() && now.isAfter(until.get())) {
            out.add(Demand.VERIFIED);
        }
        if (known.compareTo(evidence) < 0 && now.isAfter(ended.plus(evidenceWithin))) {
            out.add(Demand.EVIDENCE);
        }
        return out;
    }
}
