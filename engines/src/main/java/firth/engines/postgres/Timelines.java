package firth.engines.postgres;

import firth.core.model.Database;
import firth.core.model.Lineage;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;

/** The timelines of a system as lineages: which left which where, and when each was opened. */
final class Timelines {

    private final Map<Integer, Lineage> lineages = new TreeMap<>();

    Timelines(
            Map<Integer, TimelineHistory> histories,
            Map<Integer, Instant> historiesWritten,
            Collection<Segment> segments,
            List<BaseBackup> backups) {
        TreeSet<Integer> all = new TreeSet<>();
        Map<Integer, SegmentFacts.Switch> switches = new HashMap<>();
        Map<Integer, Instant> firstWritten = new HashMap<>();
        for (Segment s : segments) {
            all.add(s.name().timeline());
            firstWritten.merge(s.name().timeline(), s.written(), (a, b) -> a.isBefore(b) ? a : b);
            for (SegmentFacts.Switch w : s.facts().switches()) {
                switches.merge(w.to(), w, (a, b) -> a.lsn() <= b.lsn() ? a : b);
            }
        }
        backups.forEach(b -> all.add(b.timeline()));
        histories.values().forEach(h -> {
            all.add(h.timeline());
            h.ancestors().forEach(a -> all.add(a.timeline()));
        });
        int first = all.isEmpty() ? 1 : all.first();
        for (int timeline : all) {
            TimelineHistory history = histories.get(timeline);
            SegmentFacts.Switch turned = switches.get(timeline);
            Optional<TimelineHistory.Left> left = history == null
                            || history.ancestors().isEmpty()
                    ? Optional.ofNullable(turned).map(w -> new TimelineHistory.Left(w.from(), w.lsn()))
                    : Optional.of(history.ancestors().get(history.ancestors().size() - 1));
            Optional<Instant> opened = turned != null
                    ? Optional.of(turned.at())
                    : Optional.ofNullable(historiesWritten.get(timeline))
                            .or(() -> Optional.ofNullable(firstWritten.get(timeline)));
            if (timeline == first || left.isEmpty()) {
                lineages.put(
                        timeline,
                        new Lineage(
                                Integer.toString(timeline),
                                Optional.empty(),
                                Map.of(),
                                timeline == first ? Optional.empty() : opened));
            } else {
                lineages.put(
                        timeline,
                        new Lineage(
                                Integer.toString(timeline),
                                Optional.of(Integer.toString(left.get().timeline())),
                                Map.of(Database.DEFAULT_STREAM, left.get().at()),
                                opened));
            }
        }
    }

    List<Lineage> lineages() {
        return lineages.isEmpty() ? List.of(Lineage.FIRST) : new ArrayList<>(lineages.values());
    }

    /** When a timeline that forked from another was opened. */
    Optional<Instant> opened(int timeline) {
        return Optional.ofNullable(lineages.get(timeline)).flatMap(Lineage::openedAt);
    }
}
