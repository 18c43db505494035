package firth.server.paper;

import java.util.List;

/**
 * A document for people, whatever it is written as: a checklist, a recovery sheet, a report, a mail.
 *
 * @param title what it is, of what
 * @param under the line under the title: as of when, by which rules
 * @param foot what stands at its end: who made it, when
 */
public record Sheet(String title, String under, List<Section> sections, String foot) {

    public Sheet {
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
     * @param text the same in words
     * @param bands in thousandths of the whole
     */
    public record Ribbon(String text, List<Band> bands, String from, String to) implements Part {
        public Ribbon {
            bands = List.copyOf(bands);
        }
    }

    /**
     * A piece of a ribbon.
     *
     * @param depth how many hazards it survives; 0: it cannot be restored
     */
    public record Band(double x, double width, int depth) {}
}
