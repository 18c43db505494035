package firth.engines.postgres;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A {@code .history} file: the timelines a timeline descends from, the oldest first, each with the position at which it was left.
 */
record TimelineHistory(int timeline, List<Left> ancestors) {

    private static final Pattern NAME = Pattern.compile("([0-9A-F]{8})\\.history");
    private static final Pattern LINE = Pattern.compile("\\s*(\\d+)\\s+([0-9A-F]+/[0-9A-F]+)(\\s.*)?");

    TimelineHistory {
        ancestors = List.copyOf(ancestors);
    }

    /** A timeline, left at a position. */
    record Left(int timeline, long at) {}

    static boolean isName(String name) {
        return NAME.matcher(name).matches();
    }

    /** @throws IOException where a line is no ancestor */
    static TimelineHistory parse(String name, String content) throws IOException {
        Matcher named = NAME.matcher(name);
        if (!named.matches()) {
            throw new IOException("is no name of a timeline's history");
        }
        List<Left> ancestors = new ArrayList<>();
        for (String line : content.lines().toList()) {
            if (line.isBlank() || line.stripLeading().startsWith("#")) {
                continue;
            }
            Matcher m = LINE.matcher(line);
            if (!m.matches()) {
                throw new IOException("has a line that names no timeline and position: " + line.strip());
            }
            ancestors.add(new Left(Integer.parseInt(m.group(1)), Lsn.parse(m.group(2))));
        }
        return new TimelineHistory(Integer.parseUnsignedInt(named.group(1), 16), ancestors);
    }
}
