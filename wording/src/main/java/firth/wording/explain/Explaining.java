package firth.wording.explain;

import firth.core.cover.Gap;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.evaluation.HazardEvaluation;
import firth.core.history.History;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.wording.PositionWords;
import firth.wording.explain.Explanation.Fact;
import firth.wording.explain.Explanation.Phrase;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** Explains the figures and verdicts of one evaluation from what it already holds; nothing is computed again. */
public final class Explaining {

    private final Evaluation e;
    private final History history;

    public Explaining(Evaluation evaluation) {
        this.e = evaluation;
        this.history = evaluation.history();
    }

    /** Why the recovery point is as old as it is. */
    public Explanation age(Hazard hazard) {
        HazardEvaluation h = e.under(hazard);
        List<Phrase> answer = new ArrayList<>();
        List<Fact> facts = new ArrayList<>();
        if (h.recoveryPoint().isPresent()) {
            Instant point = h.recoveryPoint().get();
            answer.add(Phrase.words("The newest moment that can be restored" + after(hazard) + " is "));
            answer.add(Phrase.at(point));
            answer.add(Phrase.words(", "));
            answer.add(Phrase.lasting(h.age().toMillis()));
            answer.add(Phrase.words(
                    " before the moment you look from" + (stopped() ? ", not counting stopped time." : ".")));
            restoringTo(point).ifPresent(facts::add);
            logReaching(point).ifPresent(facts::add);
            nextGap(point).ifPresent(facts::add);
        } else {
            answer.add(Phrase.words("Nothing can be restored" + after(hazard)
                    + ", so the age counts from the moment the database went into service."));
            facts.add(new Fact(
                    "in service",
                    Optional.of(e.database().id()),
                    Optional.of(e.database().inServiceFrom()),
                    ""));
        }
        lastFailed().ifPresent(facts::add);
        facts.add(promise(hazard, h));
        return new Explanation(
                "Age of the recovery point",
                answer,
                facts,
                "The age is the running time between the newest moment that can be restored and now, judged by the copies"
                        + " that survive the hazard.",
                "Recovery point, age, achieved RPO");
    }

    /** Why a database has its grade. */
    public Explanation grade() {
        Hazard hazard = missed();
        HazardEvaluation h = e.under(hazard);
        List<Phrase> answer = new ArrayList<>();
        List<Fact> facts = new ArrayList<>();
        switch (e.grade()) {
            case NEW ->
                answer.add(
                        Phrase.words(
                                "It has just come into service, and its first backup can still land before its first slot closes."));
            case STRANDED -> answer.add(Phrase.words("No backup that is left restores anything."));
            case BEHIND -> {
                answer.add(Phrase.words("The recovery point" + after(hazard) + " is "));
                answer.add(Phrase.lasting(h.age().toMillis()));
                answer.add(Phrase.words(" old; "));
                answer.add(Phrase.lasting(h.objective().orElse(Duration.ZERO).toMillis()));
                answer.add(Phrase.words(" are promised."));
            }
            case SHORT -> {
                answer.add(
                        Phrase.words("Only " + percent(e.reach().cover().orElse(0.0)) + " of the promised reach of "));
                answer.add(
                        Phrase.lasting(e.reach().target().orElse(Duration.ZERO).toMillis()));
                answer.add(Phrase.words(" can be restored."));
            }
            case COVERED -> {
                boolean promised = h.objective().isPresent();
                answer.add(Phrase.words("It can be restored, "));
                answer.add(Phrase.words(
                        promised
                                ? "its recovery point is within the objective"
                                : "no objective is in force that its age could exceed"));
                answer.add(Phrase.words(
                        e.reach().target().isPresent()
                                ? ", and its reach has no hole."
                                : ", and no reach is asked for."));
            }
        }
        e.reach()
                .since()
                .ifPresent(s -> facts.add(new Fact("promised reach begins", Optional.empty(), Optional.of(s), "")));
        if (e.grade() == Grade.SHORT) {
            for (Gap gap : e.gaps()) {
                facts.add(fact(gap));
            }
            e.mishap().restorable().stream()
                    .findFirst()
                    .map(Piece::from)
                    .ifPresent(
                            f -> facts.add(new Fact("oldest restorable moment", Optional.empty(), Optional.of(f), "")));
        }
        h.recoveryPoint().ifPresent(p -> facts.add(new Fact("recovery point", Optional.empty(), Optional.of(p), "")));
        lastFailed().ifPresent(facts::add);
        facts.add(promise(hazard, h));
        return new Explanation(
                "Why " + e.grade().word(),
                answer,
                facts,
                "The first that fits: new, its first backup can still come in time; stranded, nothing can be restored; behind,"
                        + " under some hazard the age exceeds the objective; short, part of"
                        + " the promised reach cannot be restored; else covered.",
                "Reach and grade");
    }

    /** Why a hazard's objective was not kept; empty where no breach begins then. */
    public Optional<Explanation> breach(Hazard hazard, Instant from) {
        return BreachWhy.of(e, hazard, from);
    }

    /** Why a slot has its verdict; empty where the schedule has none that opens then. */
    public Optional<Explanation> slot(String schedule, Instant open) {
        return e.slots().stream()
                .filter(s -> s.schedule().equals(schedule) && s.open().equals(open))
                .findFirst()
                .map(ScheduleWhy::slot);
    }

    /** Why logs are said to have come too far apart; empty where that is not said of this moment. */
    public Optional<Explanation> cadence(String schedule, String stream, Instant from) {
        return e.cadence().stream()
                .filter(c -> c.schedule().equals(schedule)
                        && c.stream().equals(stream)
                        && c.from().equals(from))
                .findFirst()
                .map(ScheduleWhy::cadence);
    }

    /** Why there is a hole in the logs of a lineage and stream; empty where none begins at the position. */
    public Optional<Explanation> gap(String lineage, String stream, long fromPosition) {
        return e.gaps().stream()
                .filter(g -> g.from() == fromPosition
                        && g.lineage().equals(lineage)
                        && g.stream().equals(stream))
                .findFirst()
                .map(gap -> {
                    List<Phrase> answer = new ArrayList<>();
                    answer.add(Phrase.words("Logs " + span(gap) + " " + cause(gap) + ". "));
                    if (gap.bridged()) {
                        answer.add(Phrase.words(
                                gap.bridgedBy().get() + " begins cover again after them; the moments between cannot"
                                        + " be restored any more, until they leave reach."));
                    } else {
                        answer.add(
                                Phrase.words(
                                        "No later backup begins cover again: no log after them can be used until the next data backup."));
                    }
                    List<Fact> facts = new ArrayList<>();
                    gap.after()
                            .ifPresent(a ->
                                    facts.add(new Fact("logs before it reach", Optional.empty(), Optional.of(a), "")));
                    gap.before()
                            .ifPresent(b ->
                                    facts.add(new Fact("logs after it begin", Optional.empty(), Optional.of(b), "")));
                    gap.bridgedBy().ifPresent(id -> facts.add(backup("bridged by", id)));
                    gap.logs().forEach(id -> facts.add(backup("lost log", id)));
                    gap.failedRuns()
                            .forEach(
                                    id -> facts.add(new Fact("failed log run", Optional.of(id), Optional.empty(), "")));
                    return new Explanation(
                            "Gap in the logs",
                            answer,
                            facts,
                            "A gap is a maximal hole left by the available logs between the first position a usable data backup"
                                    + " needs and the last position any log contains. A backup that ends at or beyond it bridges it.",
                            "Log gaps");
                });
    }

    /** Why a copy is needed, obsolete or unusable; empty where it is not available now. */
    public Optional<Explanation> copy(String backup, String store) {
        for (int r = 0; r < e.retention().size(); r++) {
            if (history.id(e.retention().backup(r)).equals(backup)
                    && e.retention().store(r).equals(store)) {
                return Optional.of(copy(r));
            }
        }
        return Optional.empty();
    }

    private Explanation copy(int r) {
        int i = e.retention().backup(r);
        List<String> reasons = e.retention().reasons(r);
        List<Fact> facts = new ArrayList<>();
        facts.add(new Fact(
                name(history.kind(i)),
                Optional.of(history.id(i)),
                Optional.of(Instant.ofEpochMilli(
                        history.kind(i) == Kind.LOG ? history.toTimeMs(i) : history.consistentAtMs(i))),
                "in " + e.retention().store(r)));
        for (String reason : reasons) {
            facts.add(reason(r, reason));
        }
        e.version().ifPresent(v -> facts.add(policy(v)));
        String id = history.id(i);
        String sentence = switch (e.retention().verdict(r)) {
            case NEEDED ->
                id + " is needed: "
                        + (reasons.size() == 1 ? "one reason keeps it." : reasons.size() + " reasons keep it.");
            case OBSOLETE ->
                "No rule needs " + id + "; it may be purged from "
                        + e.retention().store(r) + ".";
            case UNUSABLE ->
                id + " restores nothing: "
                        + (reasons.contains("torn")
                                ? "logs it needs to be consistent are missing."
                                : "a backup it hangs from is gone.");
        };
        return new Explanation(
                "Why " + e.retention().verdict(r).word(),
                List.of(Phrase.words(sentence)),
                facts,
                "A copy is needed while any rule of its store's role, a lock, a hold, the newest way back or another needed"
                        + " backup asks for it; otherwise it is obsolete, or unusable where it restores nothing.",
                "Retention");
    }

    private static String name(Kind kind) {
        return switch (kind) {
            case FULL -> "full";
            case DIFF -> "differential";
            case INCR -> "incremental";
            case LOG -> "log";
            case CONFIG -> "config backup";
        };
    }

    private Fact reason(int r, String reason) {
        int colon = reason.indexOf(':');
        if (colon > 0) {
            String id = reason.substring(colon + 1);
            Fact named = backup(Reasons.label(reason), id);
            return new Fact(named.label(), named.id(), named.at(), Reasons.note(reason));
        }
        int copy = e.retention().copy(r);
        Optional<Instant> at = reason.equals("locked")
                ? Optional.of(Instant.ofEpochMilli(history.lockedUntilMs(copy)))
                : Optional.empty();
        return new Fact(
                Reasons.label(reason) + (at.isPresent() ? " until" : ""), Optional.empty(), at, Reasons.note(reason));
    }

    private Fact backup(String label, String id) {
        for (int i = 0; i < history.size(); i++) {
            if (history.id(i).equals(id)) {
                return new Fact(
                        label, Optional.of(id), Optional.of(Instant.ofEpochMilli(history.consistentAtMs(i))), "");
            }
        }
        return new Fact(label, Optional.of(id), Optional.empty(), "");
    }

    private Optional<Fact> restoringTo(Instant point) {
        int newest = -1;
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i).isData()
                    && history.consistentAtMs(i) <= point.toEpochMilli()
                    && isAvailable(i)
                    && (newest < 0 || history.consistentAtMs(i) > history.consistentAtMs(newest))) {
                newest = i;
            }
        }
        int found = newest;
        return newest < 0 ? Optional.empty() : Optional.of(backup("newest data backup before it", history.id(found)));
    }

    private Optional<Fact> logReaching(Instant point) {
        for (int i = 0; i < history.size(); i++) {
            if (history.kind(i) == Kind.LOG && history.toTimeMs(i) == point.toEpochMilli() && isAvailable(i)) {
                return Optional.of(
                        new Fact("last log that extends it", Optional.of(history.id(i)), Optional.of(point), ""));
            }
        }
        return Optional.empty();
    }

    private boolean isAvailable(int i) {
        long now = e.asOf().toEpochMilli();
        for (int c = history.firstCopy(i); c < history.firstCopy(i + 1); c++) {
            if (history.landedMs(c) <= now && history.goneMs(c) > now) {
                return true;
            }
        }
        return false;
    }

    private Optional<Fact> nextGap(Instant point) {
        return e.gaps().stream()
                .filter(g -> !g.bridged()
                        && g.after().filter(a -> !a.isBefore(point)).isPresent())
                .findFirst()
                .map(this::fact);
    }

    private Optional<Fact> lastFailed() {
        return java.util.stream.Stream.concat(history.failedLogRuns().stream(), history.failedDataRuns().stream())
                .filter(r -> !r.started().isAfter(e.asOf()))
                .filter(r ->
                        e.mishap().recoveryPoint().map(r.started()::isAfter).orElse(true))
                .max(java.util.Comparator.comparing(firth.core.model.Run::started))
                .map(r -> new Fact(
                        "last failed " + r.kind().word() + " run",
                        Optional.of(r.id()),
                        Optional.of(r.started()),
                        r.message().orElse("")));
    }

    private String span(Gap gap) {
        Optional<String> engine = e.database().engine();
        return PositionWords.written(engine, gap.from()) + " to " + PositionWords.written(engine, gap.to());
    }

    private Fact fact(Gap gap) {
        return new Fact(
                gap.bridged() ? "bridged gap" : "unbridged gap",
                Optional.empty(),
                gap.after(),
                "logs " + span(gap) + " " + cause(gap));
    }

    private Fact promise(Hazard hazard, HazardEvaluation h) {
        String promised = h.objective().isPresent()
                ? "promises a recovery point for " + words(hazard)
                : "promises nothing" + " for " + words(hazard);
        return e.version()
                .map(v -> {
                    Fact policy = policy(v);
                    return new Fact(policy.label(), policy.id(), policy.at(), promised);
                })
                .orElse(new Fact(
                        "no policy", Optional.empty(), Optional.empty(), "none is assigned, so nothing is promised"));
    }

    private static Fact policy(PolicyVersion v) {
        return new Fact(
                "policy " + v.name() + ", version " + v.version(),
                Optional.of(v.id()),
                Optional.of(v.effectiveFrom()),
                v.enabled() ? "in force since" : "switched off");
    }

    private boolean stopped() {
        return !e.database().stopped().isEmpty();
    }

    /** The first hazard of which the objective is exceeded; a mishap where none is. */
    private Hazard missed() {
        return Arrays.stream(Hazard.values())
                .filter(z -> e.under(z).isMissed())
                .findFirst()
                .orElse(Hazard.MISHAP);
    }

    private static String after(Hazard hazard) {
        return hazard == Hazard.MISHAP ? "" : " after " + words(hazard);
    }

    private static String words(Hazard hazard) {
        return switch (hazard) {
            case MISHAP -> "a mishap";
            case SITE_LOSS -> "loss of the site";
            case SABOTAGE -> "sabotage";
        };
    }

    private static String percent(double share) {
        return String.format(java.util.Locale.ROOT, "%.1f %%", Math.floor(share * 1000) / 10);
    }

    private static String cause(Gap gap) {
        return switch (gap.cause()) {
            case PURGED -> "were purged";
            case SPOILED -> "are spoiled";
            case FAILED -> "were never backed up, their runs failed";
            case NEVER_BACKED_UP -> "were never backed up";
        };
    }
}
