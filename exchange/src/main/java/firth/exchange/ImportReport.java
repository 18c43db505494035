package firth.exchange;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What became of the lines of one fleet file. */
public final class ImportReport {

    /** A line that was not taken: which field, and why. */
    public record Rejected(String file, long line, String field, String reason) {}

    /** Something odd that was taken all the same; {@code line} is the first it was seen on. */
    public record Warning(String file, long line, String field, String text) {}

    private final String file;
    private long lines;
    private long added;
    private long updated;
    private long unchanged;
    private Optional<Instant> newestFact = Optional.empty();
    private final List<Rejected> rejected = new ArrayList<>();
    private final List<Warning> warnings = new ArrayList<>();

    ImportReport(String file) {
        this.file = file;
    }

    void count(firth.core.history.Catalog.Change change) {
        switch (change) {
            case ADDED -> added++;
            case UPDATED, TURNED -> updated++;
            case UNCHANGED -> unchanged++;
        }
    }

    void line() {
        lines++;
    }

    void reject(long line, String field, String reason) {
        rejected.add(new Rejected(file, line, field, reason));
    }

    void warn(long line, String field, String text) {
        warnings.add(new Warning(file, line, field, text));
    }

    void happened(Instant moment) {
        if (newestFact.filter(n -> !moment.isAfter(n)).isEmpty()) {
            newestFact = Optional.of(moment);
        }
    }

    public String file() {
        return file;
    }

    /** Lines that held something. */
    public long lines() {
        return lines;
    }

    public long added() {
        return added;
    }

    public long updated() {
        return updated;
    }

    public long unchanged() {
        return unchanged;
    }

    /** The newest moment at which something in the file is recorded to have happened. */
    public Optional<Instant> newestFact() {
        return newestFact;
    }

    public List<Rejected> rejected() {
        return List.copyOf(rejected);
    }

    public List<Warning> warnings() {
        return List.copyOf(warnings);
    }
}
