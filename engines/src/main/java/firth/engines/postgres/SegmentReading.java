package firth.engines.postgres;

import firth.engines.Looking;
import firth.engines.Packed;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Reads segments in the order of the log, directory by directory, those not known from before alone; what begins with the rest of a record
 * is read behind the segment before it, wherever in the store that lies.
 */
final class SegmentReading {

    private final Looking looking;
    private final SegmentFacts.Reader reader = new SegmentFacts.Reader();
    private @Nullable Path at;

    SegmentReading(Looking looking) {
        this.looking = looking;
    }

    List<Segment> read(List<Segment> found) {
        List<Segment> out = new ArrayList<>();
        Map<Path, List<Segment>> directories = new HashMap<>();
        found.forEach(s -> directories
                .computeIfAbsent(s.file().getParent(), d -> new ArrayList<>())
                .add(s));
        for (List<Segment> one : directories.values()) {
            one.sort(Comparator.comparing((Segment s) -> s.name().timeline())
                    .thenComparing(s -> s.name().high())
                    .thenComparing(s -> s.name().low())
                    .thenComparing(s -> s.name().partial()));
            reader.scan().forget();
            List<Segment> done = new ArrayList<>();
            for (Segment s : one) {
                facts(s, before(s, done)).ifPresent(f -> done.add(s.with(f)));
            }
            out.addAll(done);
        }
        if (directories.size() > 1) {
            out.replaceAll(s -> s.facts().headless() ? behindItsLast(s, out) : s);
        }
        out.forEach(this::tellWhatIsWrong);
        return out;
    }

    /** The same segment with the record that goes on in it; as it is where nothing in its store and of its system leads up to it. */
    private Segment behindItsLast(Segment s, List<Segment> all) {
        List<Segment> near = all.stream()
                .filter(o -> o.facts().systemIdentifier() == s.facts().systemIdentifier()
                        && looking.store(o.file()).equals(looking.store(s.file())))
                .toList();
        Optional<Segment> before = before(s, near);
        return before.isEmpty() ? s : facts(s, before).map(s::with).orElse(s);
    }

    private void tellWhatIsWrong(Segment s) {
        SegmentFacts f = s.facts();
        if (!f.isTaken()) {
            looking.unread(s.file(), refusal(f));
        } else if (!f.broken().isEmpty()) {
            looking.unread(s.file(), "holds log up to " + Lsn.of(f.end()) + " only: " + f.broken());
        }
    }

    /** Why the engine does not take a file, as a clause. */
    static String refusal(SegmentFacts f) {
        return "has " + f.bytes() + " bytes and not " + f.segmentSize() + ": the engine refuses it";
    }

    private Optional<SegmentFacts> facts(Segment s, Optional<Segment> before) {
        Optional<SegmentFacts> kept = looking.known().get(s.key()).map(SegmentText::parse);
        if (kept.isPresent() && !(kept.get().headless() && before.isPresent())) {
            return kept;
        }
        try {
            looking.reading(s.file(), s.size());
            before.filter(b -> !b.file().equals(at)).ifPresent(this::readAgain);
            if (before.isEmpty()) {
                reader.scan().forget();
            }
            at = null;
            SegmentFacts facts;
            try (InputStream in = Packed.open(s.file(), looking.keys())) {
                facts = reader.read(in, s.name());
            }
            at = s.file();
            looking.known().put(s.key(), SegmentText.of(facts));
            return Optional.of(facts);
        } catch (IOException e) {
            looking.unread(s.file(), e);
            reader.scan().forget();
            return Optional.empty();
        }
    }

    /** Only for the record that goes on in the next one. */
    private void readAgain(Segment before) {
        reader.scan().forget();
        try (InputStream in = Packed.open(before.file(), looking.keys())) {
            reader.read(in, before.name());
        } catch (IOException e) {
            looking.unread(before.file(), e);
            reader.scan().forget();
        }
    }

    /** The segment whose log this one's goes on from: of its timeline, or else of the nearest one before. */
    private static Optional<Segment> before(Segment s, List<Segment> done) {
        Segment best = null;
        for (int i = done.size() - 1; i >= 0; i--) {
            Segment d = done.get(i);
            SegmentFacts facts = d.facts();
            if (facts.whole()
                    && facts.isTaken()
                    && d.name().timeline() <= s.name().timeline()
                    && facts.end() == s.name().start(facts.segmentSize())
                    && (best == null || best.name().timeline() < d.name().timeline())) {
                best = d;
                if (d.name().timeline() == s.name().timeline()) {
                    break;
                }
            }
        }
        return Optional.ofNullable(best);
    }
}
