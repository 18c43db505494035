package firth.wording;

import firth.core.findings.Detail;
import firth.core.findings.Finding;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.function.Function;

/** Findings in words. */
public final class FindingWords {

    /** So many of those that share a cause are named in its sentence: of ninety nobody reads the names. */
    private static final int NAMED = 6;

    private static final Map<Class<? extends Detail>, BiFunction<Finding, Detail, Said>> WORDS = new LinkedHashMap<>();

    static {
        on(Detail.NothingRestorable.class, CoverWords::nothingRestorable);
        on(Detail.NeverBackedUp.class, CoverWords::neverBackedUp);
        on(Detail.TooOld.class, CoverWords::tooOld);
        on(Detail.NewestLogsUseless.class, CoverWords::newestLogsUseless);
        on(Detail.ReachShort.class, CoverWords::reachShort);
        on(Detail.HoleInReach.class, CoverWords::holeInReach);
        on(Detail.HazardMissed.class, CoverWords::hazardMissed);
        on(Detail.NoPolicy.class, d -> CopyWords.noPolicy());
        on(Detail.NoRule.class, CopyWords::noRule);
        on(Detail.CopiesLacking.class, CopyWords::copiesLacking);
        on(Detail.OffRoute.class, CopyWords::offRoute);
        on(Detail.Overwritten.class, CopyWords::overwritten);
        on(Detail.LastLockEnds.class, CopyWords::lastLockEnds);
        on(Detail.HoldEnds.class, CopyWords::holdEnds);
        on(Detail.SlotNotKept.class, ScheduleWords::slotNotKept);
        on(Detail.SlotCost.class, ScheduleWords::slotCost);
        on(Detail.LogsNotTaken.class, ScheduleWords::logsNotTaken);
        on(Detail.BroughtNothing.class, ScheduleWords::broughtNothing);
        on(Detail.Unusual.class, ScheduleWords::unusual);
        on(Detail.NotAsDemanded.class, DemandWords::notAsDemanded);
        on(Detail.Unverified.class, DemandWords::unverified);
        on(Detail.NotFollowed.class, TakingWords::notFollowed);
        on(Detail.OutOfOrder.class, TakingWords::outOfOrder);
        on(Detail.TooFast.class, TakingWords::tooFast);
        on(Detail.SourceLogsGone.class, TakingWords::sourceLogsGone);
        on(Detail.ComponentsNowhere.class, DemandWords::componentsNowhere);
        on(Detail.DrillFailed.class, DemandWords::drillFailed);
        on(Detail.DrillDue.class, DemandWords::drillDue);
        on(Detail.Contradicts.class, ContradictionWords::of);
        on(Detail.PolicyContradicts.class, PolicyWords::contradicts);
        on(Detail.NotReady.class, ReadinessWords::notReady);
        on(Detail.RunnerSilent.class, HostWords::runnerSilent);
        on(Detail.VersionNotReached.class, HostWords::versionNotReached);
        on(Detail.AnotherServer.class, HostWords::anotherServer);
        on(Detail.AnotherLineage.class, HostWords::anotherLineage);
        on(Detail.FactsStale.class, HostWords::factsStale);
        on(Detail.DeletedUnasked.class, StoreWords::deletedUnasked);
        on(Detail.StockDiffers.class, StoreWords::stockDiffers);
        on(Detail.AgentBelied.class, StoreWords::agentBelied);
        on(Detail.StoreFills.class, StoreWords::storeFills);
        on(Detail.LittleKnown.class, DemandWords::littleKnown);
        on(Detail.StoreRefuses.class, StoreWords::storeRefuses);
        on(Detail.RecordTurned.class, HouseWords::recordTurned);
        on(Detail.OwnFactsNotCopied.class, HouseWords::ownFactsNotCopied);
        on(Detail.NotDelivered.class, HouseWords::notDelivered);
        on(Detail.SheetsStale.class, HouseWords::sheetsStale);
    }

    private FindingWords() {}

    private static <D extends Detail> void on(Class<D> detail, BiFunction<Finding, D, Said> words) {
        WORDS.put(detail, (f, d) -> words.apply(f, detail.cast(d)));
    }

    private static <D extends Detail> void on(Class<D> detail, Function<D, Said> words) {
        on(detail, (f, d) -> words.apply(d));
    }

    /** The kinds of detail there are words for. */
    static Set<Class<? extends Detail>> known() {
        return Set.copyOf(WORDS.keySet());
    }

    /** A finding in words; of one that several share, those of the worst with the others named. */
    public static Said of(Finding finding) {
        Said said =
                Objects.requireNonNull(WORDS.get(finding.detail().getClass())).apply(finding, finding.detail());
        List<String> others = finding.befallsToo();
        return others.isEmpty()
                ? said
                : new Said(said.title(), said.text() + " The same goes for " + named(others) + ".", said.action());
    }

    /** Some by name, the rest by number. */
    private static String named(List<String> names) {
        if (names.size() <= NAMED) {
            return String.join(", ", names);
        }
        return String.join(", ", names.subList(0, NAMED)) + " and " + (names.size() - NAMED) + " more";
    }
}
