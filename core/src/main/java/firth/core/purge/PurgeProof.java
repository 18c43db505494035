package firth.core.purge;

import firth.core.cover.Availability;
import firth.core.cover.HazardCover;
import firth.core.cover.Lines;
import firth.core.cover.Losses;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.model.BackupStore;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.PolicyVersion;
import firth.core.model.RetainRule;
import firth.core.model.Role;
import firth.core.retention.Reason;
import firth.core.retention.Retention;
import firth.core.retention.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * The demonstration that deleting some copies of one database harms nothing that is promised (docs/semantics.md, "Purging must be
 * safe"): found by evaluating the facts without them, not by trusting the verdicts.
 *
 * @param asOf the moment it was made for; it says nothing of a later one
 * @param copies how many copies it is about
 * @param bytes what they take up, as far as that is known
 * @param pointBefore the newest moment that can be restored now; empty where none can
 * @param pointAfter the newest that can be when they are gone
 * @param reachFrom from when on cover is compared: the furthest that any rule reaches back; empty where none does
 * @param before what can be restored from then on now
 * @param after what can be when they are gone
 * @param roles for each role with a rule that reaches back, that its cover stays
 * @param hazards for each hazard with an objective, that the promised reach stays from all roles together; none where no reach is promised
 * @param whole how many needed data backups stay usable and whole
 * @param flaws what would be harmed; empty: the purge is safe
 */
public record PurgeProof(
        String database,
        Instant asOf,
        int copies,
        double bytes,
        Optional<Instant> pointBefore,
        Optional<Instant> pointAfter,
        Optional<Instant> reachFrom,
        List<Piece> before,
        List<Piece> after,
        List<RoleKept> roles,
        List<HazardKept> hazards,
        int whole,
        List<Flaw> flaws) {

    /** A copy by the backup it is of and the store it lies in. */
    public record Chosen(String backup, String store) {}

    /**
     * The cover that the copies in one role alone give since the start of its reach.
     *
     * @param pieces in how many stretches or single moments
     * @param covered how much time they cover
     */
    public record RoleKept(Role role, Instant since, int pieces, Duration covered) {}

    /**
     * The cover that the copies of all roles give after a hazard since the promised reach begins.
     *
     * @param pieces in how many stretches or single moments
     * @param covered how much time they cover
     */
    public record HazardKept(Hazard hazard, Instant since, int pieces, Duration covered) {}

    /** Whether nothing promised is harmed. */
    public boolean holds() {
        return flaws.isEmpty();
    }

    /**
     * Proves a purge, or finds what it would harm.
     *
     * @param now the evaluation of these facts at the moment of the purge
     * @param chosen the copies to be deleted; those that are not available now are gone already and left out
     */
    public static PurgeProof of(DatabaseFacts facts, Fleet fleet, Evaluation now, Set<Chosen> chosen) {
        return new Work(facts, fleet, now, chosen).prove();
    }

    /** The history of a database without some copies. */
    static History without(DatabaseFacts facts, BitSet going) {
        return going.isEmpty()
                ? facts.history()
                : History.of(facts.database())
                        .addAll(facts.history(), copy -> !going.get(copy), row -> {})
                        .build();
    }

    static HazardCover cover(Database database, Fleet fleet, History history, long nowMs, Hazard hazard) {
        Availability availability = new Availability(database, fleet, history, nowMs, Losses.NONE);
        return HazardCover.now(history, new Lines(history, availability), availability, hazard);
    }

    /** What of pieces lies at or after a moment. */
    static List<Piece> since(List<Piece> restorable, Instant from) {
        return restorable.stream()
                .filter(p -> !p.to().isBefore(from))
                .map(p -> new Piece(p.lineage(), p.from().isBefore(from) ? from : p.from(), p.to()))
                .toList();
    }

    /** What of pieces is not within one of others of its lineage: each from the first moment that is missing to the last. */
    static List<Piece> missing(List<Piece> before, List<Piece> after) {
        List<Piece> out = new ArrayList<>();
        for (Piece piece : before) {
            Instant from = piece.from();
            Instant to = piece.to();
            boolean within = false;
            for (Piece p : after) {
                if (p.lineage().equals(piece.lineage())) {
                    within |= !p.from().isAfter(piece.from()) && !p.to().isBefore(piece.to());
                    from = !p.from().isAfter(from) && !p.to().isBefore(from) ? p.to().plusMillis(1) : from;
                    to = !p.to().isBefore(to) && !p.from().isAfter(to)
                            ? p.from().minusMillis(1)
                            : to;
                }
            }
            if (!within) {
                out.add(new Piece(piece.lineage(), from, to.isBefore(from) ? from : to));
            }
        }
        return out;
    }

    private static Duration time(List<Piece> pieces) {
        return pieces.stream().map(p -> Duration.between(p.from(), p.to())).reduce(Duration.ZERO, Duration::plus);
    }

    private static final class Work {
        private final DatabaseFacts facts;
        private final Fleet fleet;
        private final Evaluation now;
        private final long nowMs;
        private final BitSet going = new BitSet();
        private final List<Flaw> flaws = new ArrayList<>();
        private double bytes;

        Work(DatabaseFacts facts, Fleet fleet, Evaluation now, Set<Chosen> chosen) {
            this.facts = facts;
            this.fleet = fleet;
            this.now = now;
            this.nowMs = now.asOf().toEpochMilli();
            Retention kept = now.retention();
            Set<String> stores = chosen.stream().map(Chosen::store).collect(Collectors.toSet());
            for (int k = 0; k < kept.size(); k++) {
                if (stores.contains(kept.store(k))
                        && chosen.contains(new Chosen(now.history().id(kept.backup(k)), kept.store(k)))) {
                    going.set(kept.copy(k));
                    bytes += Double.isNaN(kept.bytes(k)) ? 0 : kept.bytes(k);
                    if (kept.verdict(k) == Verdict.NEEDED) {
                        flaws.add(
                                new Flaw.CopyNeeded(now.history().id(kept.backup(k)), kept.store(k), kept.reasons(k)));
                    }
                }
            }
        }

        PurgeProof prove() {
            History left = without(facts, going);
            HazardCover cover = cover(left, Losses.NONE);
            List<Piece> restorable = cover.restorable();
            Optional<Instant> point = newest(restorable);
            Optional<Instant> pointBefore = newest(now.mishap().restorable());
            if (pointBefore.isEmpty() && !going.isEmpty()) {
                flaws.add(new Flaw.NothingToRestore());
            }
            if (!point.equals(pointBefore)) {
                flaws.add(new Flaw.NewestMoves(pointBefore, point));
            }
            List<RoleKept> roles = new ArrayList<>();
            for (Role role : Role.values()) {
                reach(role).ifPresent(reach -> roles.add(role(role, since(reach), restorable)));
            }
            Optional<Instant> from = roles.stream().map(RoleKept::since).min(Comparator.naturalOrder());
            return new PurgeProof(
                    facts.database().id(),
                    now.asOf(),
                    going.cardinality(),
                    bytes,
                    pointBefore,
                    point,
                    from,
                    from.map(f -> PurgeProof.since(now.mishap().restorable(), f))
                            .orElse(List.of()),
                    from.map(f -> PurgeProof.since(restorable, f)).orElse(List.of()),
                    roles,
                    hazards(left, restorable),
                    wholeAfter(left, cover),
                    List.copyOf(flaws));
        }

        /** What is promised under each hazard must stay restorable from what is left anywhere. */
        private List<HazardKept> hazards(History left, List<Piece> afterMishap) {
            List<HazardKept> out = new ArrayList<>();
            PromisedReach.since(facts, now).ifPresent(since -> {
                for (Hazard hazard : PromisedReach.promised(now)) {
                    List<Piece> before = PurgeProof.since(now.under(hazard).restorable(), since);
                    List<Piece> after = hazard == Hazard.MISHAP
                            ? afterMishap
                            : PurgeProof.cover(facts.database(), fleet, left, nowMs, hazard)
                                    .restorable();
                    for (Piece piece : missing(before, after)) {
                        flaws.add(new Flaw.PromisedReachTorn(piece.from(), piece.to(), hazard));
                    }
                    out.add(new HazardKept(hazard, since, before.size(), time(before)));
                }
            });
            return out;
        }

        private HazardCover cover(History history, Losses losses) {
            Availability availability = new Availability(facts.database(), fleet, history, nowMs, losses);
            return HazardCover.now(history, new Lines(history, availability), availability, Hazard.MISHAP);
        }

        private static Optional<Instant> newest(List<Piece> restorable) {
            return restorable.stream().map(Piece::to).max(Comparator.naturalOrder());
        }

        /** The furthest a policy in force reaches back in a role. */
        private Optional<Duration> reach(Role role) {
            return now.version().filter(PolicyVersion::enabled).map(PolicyVersion::retain).orElse(List.of()).stream()
                    .filter(r -> r.role() == role)
                    .map(RetainRule::reach)
                    .flatMap(Optional::stream)
                    .max(Comparator.naturalOrder());
        }

        private Instant since(Duration reach) {
            return Instant.ofEpochMilli(facts.database().clock().before(nowMs, reach.toMillis()));
        }

        /** What the copies in a role alone restore since its reach must stay restorable from what is left anywhere. */
        private RoleKept role(Role role, Instant since, List<Piece> left) {
            Set<String> others = new HashSet<>();
            for (BackupStore store : fleet.stores()) {
                if (store.role().filter(role::equals).isEmpty()) {
                    others.add(store.id());
                }
            }
            List<Piece> own = PurgeProof.since(
                    cover(facts.history(), new Losses(others, Set.of())).restorable(), since);
            for (Piece piece : missing(own, left)) {
                flaws.add(new Flaw.RoleReachTorn(piece.from(), piece.to(), role));
            }
            return new RoleKept(role, since, own.size(), time(own));
        }

        /** Counts the needed data backups that stay usable and whole; one that does not is a flaw. */
        private int wholeAfter(History left, HazardCover cover) {
            Retention kept = now.retention();
            Set<String> seen = new HashSet<>();
            int whole = 0;
            for (int k = 0; k < kept.size(); k++) {
                String id = now.history().id(kept.backup(k));
                boolean counts = now.history().kind(kept.backup(k)).isData()
                        && kept.verdict(k) == Verdict.NEEDED
                        && !kept.has(k, Reason.CHAIN_BROKEN)
                        && !kept.has(k, Reason.TORN);
                if (counts && seen.add(id)) {
                    int row = left.row(id).orElseThrow();
                    if (wasWhole(kept.backup(k)) && (!cover.usable(row) || cover.torn(row))) {
                        flaws.add(new Flaw.BackupUseless(id));
                    } else {
                        whole++;
                    }
                }
            }
            return whole;
        }

        private @Nullable HazardCover untouched;

        private boolean wasWhole(int row) {
            if (untouched == null) {
                untouched = cover(facts.history(), Losses.NONE);
            }
            int same = facts.history().row(now.history().id(row)).orElseThrow();
            return untouched.usable(same) && !untouched.torn(same);
        }
    }
}
