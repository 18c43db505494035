package firth.engines.postgres;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What a segment tells, on one line, as it is kept until the file changes. */
final class SegmentText {

    private static final String NONE = "-";
    private static final String BETWEEN = " ";
    private static final int FIELDS = 16;

    private SegmentText() {}

    static String of(SegmentFacts f) {
        List<String> out = new ArrayList<>(List.of(
                Integer.toString(f.magic()),
                Long.toString(f.systemIdentifier()),
                Integer.toString(f.segmentSize()),
                Long.toString(f.start()),
                Long.toString(f.end()),
                Boolean.toString(f.whole()),
                Boolean.toString(f.headless()),
                Long.toString(f.bytes()),
                Long.toString(f.records()),
                Long.toString(f.commits()),
                Long.toString(f.aborts()),
                moment(f.earliestEnd()),
                moment(f.lastCommit()),
                moment(f.checkpoint()),
                Integer.toString(f.switches().size()),
                f.broken().isEmpty() ? NONE : f.broken().replace(' ', '_')));
        for (SegmentFacts.Switch s : f.switches()) {
            out.add(Integer.toString(s.from()));
            out.add(Integer.toString(s.to()));
            out.add(Long.toString(s.lsn()));
            out.add(s.at().toString());
        }
        return String.join(BETWEEN, out);
    }

    static SegmentFacts parse(String line) {
        String[] f = line.split(BETWEEN, -1);
        List<SegmentFacts.Switch> switches = new ArrayList<>();
        for (int i = 0; i < Integer.parseInt(f[14]); i++) {
            int at = FIELDS + 4 * i;
            switches.add(new SegmentFacts.Switch(
                    Integer.parseInt(f[at]),
                    Integer.parseInt(f[at + 1]),
                    Long.parseLong(f[at + 2]),
                    Instant.parse(f[at + 3])));
        }
        return new SegmentFacts(
                Integer.parseInt(f[0]),
                Long.parseLong(f[1]),
                Integer.parseInt(f[2]),
                Long.parseLong(f[3]),
                Long.parseLong(f[4]),
                Boolean.parseBoolean(f[5]),
                f[15].equals(NONE) ? "" : f[15].replace('_', ' '),
                Boolean.parseBoolean(f[6]),
                Long.parseLong(f[7]),
                Long.parseLong(f[8]),
                Long.parseLong(f[9]),
                Long.parseLong(f[10]),
                moment(f[11]),
                moment(f[12]),
                moment(f[13]),
                switches);
    }

    private static String moment(Optional<Instant> at) {
        return at.map(Instant::toString).orElse(NONE);
    }

    private static Optional<Instant> moment(String written) {
        return written.equals(NONE) ? Optional.empty() : Optional.of(Instant.parse(written));
    }
}
