package firth.exchange;

import com.cronutils.model.CronType;
import com.cronutils.model.definition.CronDefinitionBuilder;
import com.cronutils.parser.CronParser;
import java.time.ZonedDateTime;
import java.util.Locale;
import java.util.Optional;
import net.fortuna.ical4j.model.Recur;

/** Tells whether a recurrence can be understood, and if not, why. */
final class Recurrences {

    private Recurrences() {}

    static Optional<String> flawOfRule(String rule) {
        if (!rule.toUpperCase(Locale.ROOT).contains("BYHOUR=")) {
            return Optional.of("names no hour (BYHOUR), so nothing says when the window opens");
        }
        try {
            new Recur<ZonedDateTime>(rule);
            return Optional.empty();
        } catch (RuntimeException e) {
            return Optional.of("is not an RFC 5545 recurrence rule such as FREQ=WEEKLY;BYDAY=SA;BYHOUR=23;BYMINUTE=40");
        }
    }

    static Optional<String> flawOfCron(String line) {
        try {
            new CronParser(CronDefinitionBuilder.instanceDefinitionFor(CronType.UNIX))
                    .parse(line)
                    .validate();
            return Optional.empty();
        } catch (IllegalArgumentException e) {
            return Optional.of("is not a five-field cron line such as 40 23 * * 0-5");
        }
    }
}
