package firth.server.documents;

import java.util.List;
import java.util.Optional;

/**
 * A document for people, whatever it is written as: a checklist, a recovery sheet, a report, a mail.
 *
 * @param title what it is, of what
 * @param under the line under the title: as of when, by which rules
 * @param foot what stands at its end: who made it, when
 */
public record Document(String title, String under, List<Section> sections, String foot) {

    public Document {
        sections = List.copyOf(sections);
    }

    /** A heading with what belongs under it. */
    public record Section(String heading, List<Part> parts) {
        public Section {
            parts = List.copyOf(parts);
        }

        public Section(String heading, Part... parts) {
            this(heading, List.of(parts));
        }
    }

    /** A part of a section: a sentence, a table, lines to tick, or a ribbon of cover. */
    public sealed interface Part permits Text, Table, Ticks, Ribbon {
        /** What it is, for templates to choose by. */
        default String sort() {
            return getClass().getSimpleName();
        }
    }

    public record Text(String text) implements Part {}

    /** Rows of as many cells as there are heads. */
    public record Table(List<String> head, List<List<String>> rows) implements Part {
        public Table {
            head = List.copyOf(head);
            rows = rows.stream().map(List::copyOf).toList();
            for (List<String> row : rows) {
                if (row.size() != head.size()) {
                    throw new IllegalArgumentException("a row of " + row.size() + " cells under " + head.size());
                }
            }
        }
    }

    public record Ticks(List<Tick> ticks) implements Part {
        public Ticks {
            ticks = List.copyOf(ticks);
        }
    }

    /**
     * Something to be done.
     *
     * @param details what one needs for it, each a line
     * @param done when and by whom it was; empty while it was not
     */
    public record Tick(String text, List<String> details, String done) {
        public Tick {
            details = List.copyOf(details);
        }
    }

    /**
     * A stretch of time with what can be restored in it, as a drawing.
     *
     * @param name of what it is
     * @param said how that stands, in few words
     * @param bands in thousandths of the whole
     * @param ages how old the recovery point was, below the bands; none where it is not drawn
     */
    public record Ribbon(String name, String said, List<Band> bands, String from, String to, Optional<Ages> ages)
            implements Part {
        public Ribbon {
            bands = List.copyOf(bands);
        }
    }

    /**
     * The age of the recovery point over the same time.
     *
     * @param text the same in words
     * @param objective how high what is promised lies, in hundredths from below; negative where nothing is promised
     */
    public record Ages(String text, List<Bar> bars, double objective) {
        public Ages {
            bars = List.copyOf(bars);
        }
    }

    /**
     * The worst age in a piece of the time, in thousandths of the width and hundredths of the height.
     *
     * @param over whether it is above what is promised
     */
    public record Bar(double x, double width, double height, boolean over) {}

    /**
     * A piece of a ribbon.
     *
     * @param depth how many hazards it survives; 0: it cannot be restored
     */
    public record Band(double x, double width, int depth) {}
}
