package firth.wording;

import firth.core.findings.Detail;
import firth.core.findings.FlawDetail;
import firth.core.findings.Followers;
import firth.core.findings.PolicyChange;
import firth.core.findings.PolicyFlaw;
import firth.core.model.Hazard;
import firth.core.model.Role;
import java.time.Duration;
import java.time.format.DateTimeParseException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;

/** What in a policy contradicts itself, in words. */
public final class PolicyWords {

    private static final Map<Class<? extends FlawDetail>, Function<FlawDetail, String>> WORDS = new LinkedHashMap<>();

    static {
        on(FlawDetail.ObjectiveTooShort.class, PolicyWords::tooShort);
        on(
                FlawDetail.HazardUnserved.class,
                d -> promise(d.hazard(), d.promised()) + " cannot be kept: the backups of " + d.database() + " go to "
                        + (d.hazard() == Hazard.SABOTAGE ? "no store that locks copies" : "no store at another site")
                        + ".");
        on(
                FlawDetail.ObjectiveWithoutLogs.class,
                d -> promise(Hazard.MISHAP, d.promised())
                        + " cannot be kept without logs: data backups lie up to "
                        + Wording.duration(d.spacing()) + " apart.");
        on(
                FlawDetail.ReachWithoutLogs.class,
                d -> "Without logs you can go back only to the moments of the data backups, not to every moment of "
                        + Wording.duration(d.reach()) + ".");
        on(FlawDetail.NoFull.class, d -> "No full is scheduled: sooner or later nothing can be restored.");
        on(
                FlawDetail.HangsFromNothing.class,
                d -> "The " + Wording.kindName(d.kind()) + " " + d.schedule() + " has no full to build on.");
        on(
                FlawDetail.ReachWithoutFull.class,
                d -> "Fulls lie up to " + Wording.duration(d.spacing()) + " apart: at times there is none within "
                        + Wording.duration(d.reach()) + ".");
        on(
                FlawDetail.RetainsNothing.class,
                d -> "The rule for " + d.role().word() + " stores asks for "
                        + (d.byReach() ? "a reach of zero" : "no fulls") + ": it keeps nothing.");
        on(
                FlawDetail.RungWithoutFull.class,
                d -> "No full falls in the " + d.unit().word() + " of " + d.day() + ": it will have no rung.");
        on(
                FlawDetail.AtMostTooShort.class,
                d -> "Copies are to be gone after " + Wording.duration(d.atMost()) + ", but "
                        + Wording.duration(d.needed()) + " of them are needed.");
        on(
                FlawDetail.LockTooLong.class,
                d -> "Copies are locked for " + Wording.duration(d.lock()) + " but retained for "
                        + Wording.duration(d.retained()) + ": the lock keeps what no rule needs.");
        on(
                FlawDetail.CopiesImpossible.class,
                d -> "Copies in " + d.count() + " " + provision(d.asked()) + " are asked for; those of " + d.database()
                        + " go to " + d.leadTo() + ".");
        on(
                FlawDetail.WindowShorterThanGrace.class,
                d -> "The start window of " + d.schedule() + " is " + Wording.duration(d.within()) + ", its grace "
                        + Wording.duration(d.grace()) + ": a run is on time only before the window opens.");
        on(FlawDetail.OutsideOpenHours.class, d -> "No slot of " + d.schedule() + " opens in the open hours.");
        on(
                FlawDetail.LongerThanOpenHours.class,
                d -> "A " + d.kind().word() + " of " + d.database() + " usually takes " + Wording.duration(d.takes())
                        + ", the open hours last " + Wording.duration(d.open()) + ".");
        on(FlawDetail.NeverOccurs.class, d -> "No slot of " + d.schedule() + " ever opens.");
        on(
                FlawDetail.WindowLongerThanSpacing.class,
                d -> "The start window of " + d.schedule() + " is " + Wording.duration(d.within())
                        + ", and its slots open as close as " + Wording.duration(d.apart())
                        + " apart: a run that is late for one is early for the next.");
        on(
                FlawDetail.OpensWithAnother.class,
                d -> "Whenever " + d.schedule() + " opens, " + d.other() + " does, too: one "
                        + d.kind().word() + " serves both, so it changes nothing.");
        on(
                FlawDetail.NothingRetained.class,
                d -> "No rule says what is retained: nothing ever becomes obsolete, and the stores fill up.");
        on(
                FlawDetail.RoleUnserved.class,
                d -> "A rule speaks of " + d.role().word() + " stores, and backups under this policy go to "
                        + d.led().stream().map(Role::word).collect(Collectors.joining(" and ")) + " stores alone.");
        on(
                FlawDetail.ReachNotRetained.class,
                d -> "The promise to go back " + Wording.duration(d.reach())
                        + " cannot be kept: what is retained longest is retained for "
                        + Wording.duration(d.longest()) + ".");
        on(
                FlawDetail.SabotageWithoutLock.class,
                d -> promise(Hazard.SABOTAGE, d.promised()) + " cannot be kept: no rule locks copies"
                        + d.database()
                                .map(x -> ", and no store locks those of " + x + " by itself.")
                                .orElse("."));
        on(
                FlawDetail.StoreTooSmall.class,
                d -> d.store() + " holds " + Wording.bytes(d.capacity()) + ", and what the rule for "
                        + d.role().word() + " stores retains of these databases takes " + Wording.bytes(d.needed())
                        + " there.");
        on(
                FlawDetail.SwitchedOff.class,
                d ->
                        "The policy is switched off, but schedules in it are switched on: nothing runs and nothing complains.");
    }

    /** What a value is called, by the last part of its path. */
    private static final Map<String, String> NAMES = Map.ofEntries(
            Map.entry("mishap", "losing at most"),
            Map.entry("siteLoss", "losing at most, with the site,"),
            Map.entry("sabotage", "losing at most, to sabotage,"),
            Map.entry("reach", "a reach of"),
            Map.entry("lock", "a lock of"),
            Map.entry("atMost", "keeping at most"),
            Map.entry("within", "a start window of"),
            Map.entry("grace", "a grace of"),
            Map.entry("every", "logs every"),
            Map.entry("at", "opening at"),
            Map.entry("role", "the rule is for stores that are"));

    private PolicyWords() {}

    private static <D extends FlawDetail> void on(Class<D> detail, Function<D, String> words) {
        WORDS.put(detail, d -> words.apply(detail.cast(d)));
    }

    /** The kinds of flaw there are words for. */
    static Set<Class<? extends FlawDetail>> known() {
        return Set.copyOf(WORDS.keySet());
    }

    /** What does not fit, in a sentence. */
    public static String of(PolicyFlaw flaw) {
        return Objects.requireNonNull(WORDS.get(flaw.detail().getClass())).apply(flaw.detail());
    }

    /** One that has followers, as a finding. */
    static Said contradicts(Detail.PolicyContradicts d) {
        return new Said(
                d.policy() + " contradicts itself",
                of(d.flaw()),
                d.flaw().waysOut().stream()
                        .findFirst()
                        .map(c -> "The smallest change that ends it: " + change(c) + ".")
                        .orElse("No single change ends it."));
    }

    private static String tooShort(FlawDetail.ObjectiveTooShort d) {
        return promise(d.hazard(), d.promised()) + " cannot be kept: logs come every " + Wording.duration(d.every())
                + d.delay()
                        .map(x -> ", and those of " + x.database() + " usually " + safe(d.hazard()) + " "
                                + Wording.duration(x.value()) + " after that.")
                        .orElse(".");
    }

    /** What is promised, as the subject of a sentence. */
    private static String promise(Hazard hazard, Duration promised) {
        String most = "The promise to lose at most " + Wording.duration(promised);
        return switch (hazard) {
            case MISHAP -> most + " to a mishap";
            case SITE_LOSS -> most + " with the site";
            case SABOTAGE -> most + " to sabotage";
        };
    }

    /** What logs do to be safe from a hazard. */
    private static String safe(Hazard hazard) {
        return switch (hazard) {
            case MISHAP -> "reach a store";
            case SITE_LOSS -> "reach another site";
            case SABOTAGE -> "come under a lock";
        };
    }

    private static String provision(Followers.Provision asked) {
        return switch (asked) {
            case STORES -> "stores";
            case MEDIA -> "media";
            case OFFSITE -> "stores at another site";
            case LOCKED -> "stores that lock";
        };
    }

    private static String change(PolicyChange c) {
        String last = c.path().substring(c.path().lastIndexOf('.') + 1);
        String what = NAMES.getOrDefault(
                last, c.path().replace('.', ' ').replace("+", "").strip());
        return c.from().isEmpty()
                ? "add " + value(c.to()) + " (" + what + ")"
                : c.to().isEmpty()
                        ? "leave out " + what
                        : what + " " + value(c.to()) + " instead of " + value(c.from());
    }

    /** A value as it is said: durations in words, everything else as it is written. */
    private static String value(String written) {
        try {
            return Wording.duration(Duration.parse(written));
        } catch (DateTimeParseException e) {
            return written;
        }
    }
}
