package firth.core.forecast;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.RandomFleet;
import firth.core.Seeds;
import firth.core.cover.Piece;
import firth.core.evaluation.Evaluation;
import firth.core.history.DatabaseFacts;
import firth.core.history.History;
import firth.core.history.HistoryBuilder;
import firth.core.retention.Verdict;
import firth.core.time.Span;
import firth.core.time.Spans;
import java.time.Instant;
import java.util.BitSet;
import java.util.stream.LongStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What rules lose. */
class UnkeptTest {

    static LongStream worlds() {
        return Seeds.upTo(60);
    }

    /** What is lost is what could be restored and cannot be any more once everything obsolete is really gone. */
    @ParameterizedTest(name = "seed {0}")
    @MethodSource("worlds")
    void whatNoRuleKeepsIsWhatIsLostWhenItIsGone(long seed) {
        RandomFleet world = new RandomFleet(seed);
        Instant now = world.anyMoment();
        DatabaseFacts facts = world.facts(world.knownBy(now));
        Evaluation e = Evaluation.of(facts, world.fleet, now, new Span(now, now));
        BitSet obsolete = new BitSet();
        for (int k = 0; k < e.retention().size(); k++) {
            if (e.retention().verdict(k) != Verdict.NEEDED) {
                obsolete.set(e.retention().copy(k));
            }
        }
        HistoryBuilder left = History.of(facts.database());
        left.addAll(facts.history(), c -> !obsolete.get(c), i -> {});
        DatabaseFacts then = new DatabaseFacts(facts.database(), left.build(), facts.holds(), facts.closures());
        Spans lost = moments(e).without(moments(Evaluation.of(then, world.fleet, now, new Span(now, now))));
        assertEquals(lost, Unkept.of(facts, world.fleet, now));
    }

    private static Spans moments(Evaluation e) {
        Spans out = Spans.NONE;
        for (Piece p : e.mishap().restorable()) {
            out = out.or(Spans.of(p.from().toEpochMilli(), p.to().toEpochMilli() + 1));
        }
        return out;
    }
}
