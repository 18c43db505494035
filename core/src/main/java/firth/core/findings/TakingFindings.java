package firth.core.findings;

import firth.core.adherence.Attempt;
import firth.core.adherence.Attempts;
import firth.core.adherence.Following;
import firth.core.adherence.Limits;
import firth.core.adherence.Slot;
import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding.Severity;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Backups that were not taken as the policy says they are (docs/semantics.md, "How backups are taken"). */
public final class TakingFindings {

    private TakingFindings() {}

    /**
     * How fast a run went.
     *
     * @param run its id, or that of a backup nobody told the run of
     * @param store the one it wrote to, where that is known
     * @param pieces what it wrote from one moment until another
     */
    public record Paced(String run, Kind kind, Optional<String> store, List<PieceWritten> pieces) {
        public Paced {
            pieces = List.copyOf(pieces);
        }
    }

    /** @param bytes how many were written in it */
    public record PieceWritten(Instant from, Instant to, double bytes) {

        double rate() {
            return bytes * 1000 / Math.max(1, Duration.between(from, to).toMillis());
        }
    }

    /** What did not follow what it is to follow, and what ran before its turn. */
    static List<Finding> of(Evaluation e) {
        List<Finding> out = new ArrayList<>();
        e.version().ifPresent(v -> {
            Following.late(e.history(), v, e.asOf()).forEach(f -> out.add(late(e, f)));
            outOfOrder(e, v).ifPresent(out::add);
        });
        return out;
    }

    private static Finding late(Evaluation e, Following f) {
        boolean config = f.rule().take() == Kind.CONFIG;
        List<String> backups = new ArrayList<>(List.of(f.first()));
        f.newest().ifPresent(n -> backups.add(n.id()));
        return Finding.of(
                config ? "config-behind" : "not-followed",
                Severity.RULE_BROKEN,
                e.database().id(),
                config
                        ? e.database().id()
                        : e.database().id() + "/" + f.rule().take().word(),
                Optional.of(f.until()),
                new Detail.NotFollowed(
                        f.after(),
                        f.ended(),
                        f.rule().take(),
                        f.newest().map(Following.Newest::from),
                        f.rule().within(),
                        e.database().zone()),
                backups);
    }

    /** The newest run of a kind that a schedule started while one of a kind before it was still to come. */
    private static Optional<Finding> outOfOrder(Evaluation e, PolicyVersion version) {
        List<Kind> order = version.enabled() ? version.taking().order() : List.of();
        if (order.size() < 2) {
            return Optional.empty();
        }
        List<Attempt> attempts = Attempts.known(e.history(), e.asOf(), EnumSet.copyOf(order));
        Set<Kind> ordered = EnumSet.copyOf(order);
        return ordered.stream()
                .flatMap(kind ->
                        attempts.stream()
                                .filter(a -> a.kind() == kind && !a.byHand())
                                .reduce((one, other) -> other)
                                .stream())
                .flatMap(a -> e.slots().stream()
                        .filter(s -> version.taking().before(a.kind()).contains(s.kind()))
                        .filter(s -> wasToCome(s, a.started()))
                        .map(s -> early(e, a, s)))
                .min(Comparator.comparing(Finding::key));
    }

    /** Whether a slot had begun and not been served, and there was still time for it. */
    private static boolean wasToCome(Slot slot, Instant at) {
        boolean counts = switch (slot.verdict()) {
            case SUPERSEDED, EXCUSED, PLANNED -> false;
            default -> true;
        };
        return counts
                && !slot.open().isAfter(at)
                && slot.close().isAfter(at)
                && slot.runs().stream()
                        .noneMatch(r ->
                                r.ok() && r.ended().filter(x -> !x.isAfter(at)).isPresent());
    }

    private static Finding early(Evaluation e, Attempt attempt, Slot slot) {
        return Finding.of(
                "out-of-order",
                Severity.RULE_BROKEN,
                e.database().id(),
                e.database().id() + "/" + attempt.kind().word(),
                Optional.of(attempt.started()),
                new Detail.OutOfOrder(
                        attempt.kind(),
                        attempt.started(),
                        slot.kind(),
                        slot.open(),
                        e.database().zone()),
                List.of(attempt.id()));
    }

    /**
     * Of some runs those that went faster than the policy allows.
     *
     * @param paced the newest run of each kind that has ended
     */
    public static List<Finding> tooFast(Evaluation e, List<Paced> paced) {
        Optional<PolicyVersion> version = e.version().filter(PolicyVersion::enabled);
        if (version.isEmpty() || version.get().taking().limits().isEmpty()) {
            return List.of();
        }
        Limits limits = new Limits(version.get(), e.database().zone());
        Optional<String> host = e.database().particulars().host();
        List<Finding> out = new ArrayList<>();
        for (Paced run : paced) {
            run.pieces().stream()
                    .filter(p -> limits.isTooFast(p.bytes(), p.from(), p.to(), run.store(), host))
                    .max(Comparator.comparingDouble(p -> p.rate()
                            / limits.most(p.from(), p.to(), run.store(), host).orElseThrow()))
                    .ifPresent(p -> out.add(fast(
                            e,
                            run,
                            p,
                            limits.most(p.from(), p.to(), run.store(), host).orElseThrow())));
        }
        return out;
    }

    private static Finding fast(Evaluation e, Paced run, PieceWritten piece, double most) {
        return Finding.of(
                "too-fast",
                Severity.RULE_BROKEN,
                e.database().id(),
                e.database().id() + "/" + run.kind().word(),
                Optional.of(piece.from()),
                new Detail.TooFast(
                        run.kind(),
                        piece.from(),
                        piece.to(),
                        piece.rate(),
                        most,
                        run.store(),
                        e.database().zone()),
                List.of(run.run()));
    }
}
