package firth.engines.postgres;

import java.io.IOException;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * What {@code backup_label} in a base backup says, or the {@code .backup} file its archive keeps of it, which has the end, too.
 *
 * @param start where replay begins
 * @param end where the backup is consistent, in an archive's file alone
 * @param stopped when it ended, to the second, in an archive's file alone; absent where its zone is written so that it cannot be told
 * @param incrementalFrom where the backup begins that this one rests on
 */
record BackupLabel(
        int timeline,
        long start,
        OptionalLong end,
        Optional<Instant> started,
        Optional<Instant> stopped,
        OptionalLong incrementalFrom,
        String label) {

    private static final Pattern NAME = Pattern.compile("[0-9A-F]{24}\\.[0-9A-F]{8}\\.backup");
    private static final Pattern LINE = Pattern.compile("([A-Z ]+): (.*)");
    private static final Pattern MOMENT = Pattern.compile("(\\d{4}-\\d\\d-\\d\\d \\d\\d:\\d\\d:\\d\\d) (\\S+)");
    private static final DateTimeFormatter CLOCK = DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm:ss", Locale.ROOT);

    static boolean isName(String name) {
        return NAME.matcher(name).matches();
    }

    /** @throws IOException where it lacks its start */
    static BackupLabel parse(String content) throws IOException {
        Map<String, String> lines = new HashMap<>();
        for (String line : content.lines().toList()) {
            Matcher m = LINE.matcher(line);
            if (m.matches()) {
                lines.put(m.group(1), m.group(2).strip());
            }
        }
        String start = lines.get("START WAL LOCATION");
        String timeline = lines.get("START TIMELINE");
        if (start == null || timeline == null) {
            throw new IOException("does not say where the backup starts");
        }
        try {
            return new BackupLabel(
                    Integer.parseInt(timeline),
                    position(start),
                    optional(lines.get("STOP WAL LOCATION")),
                    moment(lines.get("START TIME")),
                    moment(lines.get("STOP TIME")),
                    optional(lines.get("INCREMENTAL FROM LSN")),
                    lines.getOrDefault("LABEL", ""));
        } catch (IllegalArgumentException e) {
            throw new IOException("says something else than a position: " + e.getMessage(), e);
        }
    }

    private static OptionalLong optional(@Nullable String written) {
        return written == null ? OptionalLong.empty() : OptionalLong.of(position(written));
    }

    /** The file's name in brackets follows it. */
    private static long position(String written) {
        int space = written.indexOf(' ');
        return Lsn.parse(space < 0 ? written : written.substring(0, space));
    }

    /** The engine writes the short name of its log's zone, which tells the moment for UTC and GMT alone without doubt. */
    private static Optional<Instant> moment(@Nullable String written) {
        if (written == null) {
            return Optional.empty();
        }
        Matcher m = MOMENT.matcher(written);
        if (!m.matches() || !m.group(2).matches("UTC|GMT|Z|[+-]\\d\\d(:?\\d\\d)?")) {
            return Optional.empty();
        }
        try {
            return Optional.of(LocalDateTime.parse(m.group(1), CLOCK)
                    .atZone(ZoneId.of(m.group(2)))
                    .toInstant());
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }
}
