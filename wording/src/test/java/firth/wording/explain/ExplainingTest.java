package firth.wording.explain;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.adherence.CadenceGap;
import firth.core.adherence.Slot;
import firth.core.adherence.SlotVerdict;
import firth.core.cover.Gap;
import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.model.Hazard;
import firth.core.objective.Breach;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Whatever is asked about, there is an answer, it names its rule, and the facts it names exist. */
class ExplainingTest {

    static LongStream seeds() {
        // The last is new.
        return LongStream.concat(Seeds.upTo(40), LongStream.of(93)).distinct();
    }

    private static Set<String> known(RandomFleet world) {
        Set<String> out = new HashSet<>(List.of("p", "d", "unheard-of", "nightly", "second"));
        world.backups.forEach(b -> out.add(b.id()));
        return out;
    }

    private static void assertSound(Explanation why, RandomFleet world) {
        assertFalse(why.answer().isEmpty());
        assertTrue(why.rule().endsWith("."), why.rule());
        assertTrue(Set.of(
                        "Retention",
                        "Log gaps",
                        "Reach and grade",
                        "Recovery point, age, achieved RPO",
                        "Slots",
                        "Cadence")
                .contains(why.section()));
        Set<String> known = known(world);
        for (Explanation.Fact fact : why.facts()) {
            assertFalse(fact.label().isBlank());
            fact.id().ifPresent(id -> assertTrue(known.contains(id), id + " is no fact"));
        }
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void everyFigureAndVerdictCanBeExplained(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Instant now = world.anyMoment();
        Evaluation e = world.evaluate(world.backups, now);
        Explaining explaining = new Explaining(e);
        for (Hazard hazard : Hazard.values()) {
            Explanation age = explaining.age(hazard);
            assertSound(age, world);
            boolean nothing = e.under(hazard).recoveryPoint().isEmpty();
            assertEquals(nothing, sentence(age).startsWith("Nothing can be restored"));
            for (Breach breach : e.under(hazard).breaches()) {
                assertSound(explaining.breach(hazard, breach.from()).orElseThrow(), world);
            }
        }
        for (Slot slot : e.slots()) {
            Explanation why = explaining.slot(slot.schedule(), slot.open()).orElseThrow();
            assertSound(why, world);
            assertEquals("Why " + slot.verdict().word(), why.title());
            boolean byAnother = slot.verdict() == SlotVerdict.SUPERSEDED || slot.verdict() == SlotVerdict.EXCUSED;
            assertEquals(byAnother, !slot.grounds().isEmpty(), slot.toString());
        }
        for (CadenceGap gap : e.cadence()) {
            assertSound(
                    explaining.cadence(gap.schedule(), gap.stream(), gap.from()).orElseThrow(), world);
        }
        assertSound(explaining.grade(), world);
        assertEquals("Why " + e.grade().word(), explaining.grade().title());
        if (e.grade() == Grade.BEHIND) {
            boolean byMishap = e.mishap().isMissed();
            assertEquals(byMishap, sentence(explaining.grade()).startsWith("The recovery point is "));
        }
        for (Gap gap : e.gaps()) {
            Explanation why =
                    explaining.gap(gap.lineage(), gap.stream(), gap.from()).orElseThrow();
            assertSound(why, world);
            assertEquals(
                    gap.bridged(), why.facts().stream().anyMatch(f -> f.label().equals("bridged by")));
        }
        for (int r = 0; r < e.retention().size(); r++) {
            Explanation why = explaining
                    .copy(e.history().id(e.retention().backup(r)), e.retention().store(r))
                    .orElseThrow();
            assertSound(why, world);
            assertEquals("Why " + e.retention().verdict(r).word(), why.title());
            assertTrue(why.facts().size() > e.retention().reasons(r).size(), "the copy, and each reason");
        }
    }

    private static String sentence(Explanation why) {
        StringBuilder out = new StringBuilder();
        why.answer().forEach(p -> p.words().ifPresent(out::append));
        return out.toString();
    }

    @Test
    void whatDoesNotExistHasNoExplanation() {
        RandomFleet world = new RandomFleet(1);
        Explaining explaining = new Explaining(world.evaluate(world.backups, world.end));
        assertTrue(explaining.gap("1", "main", -7).isEmpty());
        assertTrue(explaining.copy("nothing", "n1").isEmpty());
        assertTrue(explaining.breach(Hazard.MISHAP, Instant.EPOCH).isEmpty());
        assertTrue(explaining.slot("nightly", Instant.EPOCH).isEmpty());
        assertTrue(explaining.cadence("logs", "main", Instant.EPOCH).isEmpty());
    }

    @Test
    void everyReasonHasWords() {
        for (firth.core.retention.Reason reason : firth.core.retention.Reason.values()) {
            assertFalse(Reasons.note(reason.word()).isEmpty(), reason + " has no words");
        }
        for (String naming : List.of("parent-of", "log-for-consistency", "replaced-by")) {
            assertFalse(Reasons.note(naming).isEmpty(), naming + " has no words");
        }
    }
}
