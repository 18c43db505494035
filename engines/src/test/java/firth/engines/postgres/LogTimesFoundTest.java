package firth.engines.postgres;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.model.Backup.LogTimes;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class LogTimesFoundTest {

    private static final int SIZE = 1 << 20;
    private static final Instant BEGIN = Instant.parse("2026-11-30T10:00:00Z");
    private static final Duration MICRO = Duration.ofNanos(1_000);

    private final List<Segment> segments = new ArrayList<>();

    private static Instant at(int minute) {
        return BEGIN.plus(Duration.ofMinutes(minute));
    }

    /** @param minutes of its transactions' ends, in order; none for a segment without any */
    private Segment add(int timeline, int number, int opens, int... minutes) {
        Optional<Instant> first = minutes.length == 0 ? Optional.empty() : Optional.of(at(minutes[0]));
        Optional<Instant> last = minutes.length == 0 ? Optional.empty() : Optional.of(at(minutes[minutes.length - 1]));
        List<SegmentFacts.Switch> switches = opens < 0
                ? List.of()
                : List.of(new SegmentFacts.Switch(timeline - 1, timeline, (long) number * SIZE + 100, at(opens)));
        SegmentFacts facts = new SegmentFacts(
                0xD110,
                4711,
                SIZE,
                (long) number * SIZE,
                (number + 1L) * SIZE,
                true,
                "",
                false,
                SIZE,
                10,
                minutes.length,
                0,
                first,
                last,
                Optional.empty(),
                switches);
        Segment s = new Segment(
                        Path.of("archive", "s" + number),
                        new SegmentName(timeline, 0, number, false),
                        SIZE,
                        at(59),
                        "k" + number)
                .with(facts);
        segments.add(s);
        return s;
    }

    private LogTimes times(Segment s) {
        Timelines timelines = new Timelines(Map.of(), Map.of(), segments, List.of());
        return new LogTimesFound(segments, timelines).of(s).covered();
    }

    @Test
    void aSegmentIsCompleteUntilTheNextTransactionEnds() {
        Segment one = add(1, 1, -1, 0, 2);
        Segment idle = add(1, 2, -1);
        Segment last = add(1, 3, -1, 30, 31);
        assertEquals(new LogTimes(at(0), at(30).minus(MICRO)), times(one));
        assertEquals(new LogTimes(at(30).minus(MICRO), at(30).minus(MICRO)), times(idle));
        assertEquals(new LogTimes(at(30).minus(MICRO), at(31)), times(last));
    }

    @Test
    void atAHoleItIsCompleteUntilItsLastCommitAlone() {
        Segment before = add(1, 1, -1, 0, 2);
        Segment after = add(1, 3, -1, 30, 31);
        assertEquals(new LogTimes(at(0), at(2)), times(before));
        assertEquals(new LogTimes(at(30), at(31)), times(after));
    }

    @Test
    void aTimelinesLogsBeginWhenItWasOpened() {
        add(1, 1, -1, 0, 2);
        Segment forked = add(2, 1, 10, 0, 1, 12);
        Segment next = add(2, 2, -1, 15);
        Segment behindAHole = add(2, 5, -1, 40, 41);
        assertEquals(
                new LogTimes(at(10), at(15).minus(MICRO)),
                times(forked),
                "what it repeats of its parent has no time of its own");
        assertEquals(new LogTimes(at(15).minus(MICRO), at(15)), times(next));
        assertEquals(new LogTimes(at(40), at(41)), times(behindAHole), "not since the timeline was opened");
    }

    @Test
    void aBaseBackupRestoresTheLatestMomentBeforeAnythingElse() {
        add(1, 1, -1, 0, 2);
        add(1, 2, -1, 30);
        LogTimesFound found = new LogTimesFound(segments, new Timelines(Map.of(), Map.of(), segments, List.of()));
        assertEquals(at(5), found.consistentAt(1, SIZE + 500, at(4), at(5)), "when it ended");
        assertEquals(
                at(30).minusMillis(1),
                found.consistentAt(1, SIZE + 500, at(4), at(40)),
                "its files were copied later: a hair before, in whole milliseconds");
        assertEquals(
                at(30), found.consistentAt(1, 2 * SIZE + 500, at(20), at(20)), "never before the last commit it holds");
        assertEquals(at(4), found.consistentAt(7, SIZE + 500, at(4), at(5)), "without its log, by its label");
    }
}
