package firth.wording;

import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/** How figures are said in sentences. */
public final class Wording {

    private static final DateTimeFormatter MOMENT = DateTimeFormatter.ofPattern("d MMM HH:mm", Locale.ENGLISH);

    private Wording() {}

    /** A grade where nothing is promised that could be kept. */
    public static final String NOTHING_PROMISED = "nothing promised";

    /**
     * The grade as it is said: with the hazards where a mishap would cost no more than is promised, "nothing promised" instead of
     * "covered" where there is no promise.
     */
    public static String grade(Evaluation e) {
        if (e.grade() == Grade.COVERED && e.promisesNothing()) {
            return NOTHING_PROMISED;
        }
        List<Hazard> missed = e.missed();
        return e.grade() != Grade.BEHIND || missed.contains(Hazard.MISHAP)
                ? e.grade().word()
                : e.grade().word() + ", " + missed.stream().map(Wording::hazard).collect(Collectors.joining(" and "));
    }

    /** A hazard by its name: "site loss". */
    public static String hazard(Hazard hazard) {
        return hazard.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    /** What a hazard is called in a sentence. */
    public static String disaster(Hazard hazard) {
        return switch (hazard) {
            case MISHAP -> "a mishap";
            case SITE_LOSS -> "the loss of the site";
            case SABOTAGE -> "sabotage";
        };
    }

    /** A duration as it is promised: "18 days", "4 h", "90 min", "30 s". */
    public static String duration(Duration d) {
        long seconds = d.toSeconds();
        if (seconds % 86_400 == 0 && seconds >= 172_800) {
            return d.toDays() + " days";
        }
        if (seconds % 3_600 == 0 && seconds > 0 && seconds < 259_200) {
            return d.toHours() + " h";
        }
        if (seconds >= 259_200) {
            long hours = Math.round(seconds / 3600.0);
            return hours / 24 + (hours % 24 == 0 ? " days" : " d " + hours % 24 + " h");
        }
        if (seconds >= 7_200) {
            long minutes = Math.round(seconds / 60.0);
            return minutes / 60 + (minutes % 60 == 0 ? " h" : " h " + minutes % 60 + " min");
        }
        return seconds >= 60 ? Math.round(seconds / 60.0) + " min" : seconds + " s";
    }

    /** A duration as it was measured: "4 min", "50 h 6 min", "12 d 1 h". */
    public static String measured(Duration d) {
        long seconds = Math.max(0, d.toSeconds());
        if (seconds < 60) {
            return seconds + " s";
        }
        if (seconds < 3600) {
            return seconds / 60 + " min";
        }
        if (seconds < 72 * 3600) {
            long minutes = seconds / 60 % 60;
            return seconds / 3600 + (minutes == 0 ? " h" : " h " + minutes + " min");
        }
        long hours = seconds / 3600 % 24;
        return seconds / 86_400 + (hours == 0 ? " d" : " d " + hours + " h");
    }

    /** A kind of backup in a sentence: "a full", "an incremental". */
    public static String aKind(Kind kind) {
        return (kind == Kind.INCR ? "an " : "a ") + kindName(kind);
    }

    /** A kind of backup in full: "differential". */
    public static String kindName(Kind kind) {
        return switch (kind) {
            case DIFF -> "differential";
            case INCR -> "incremental";
            case LOG -> "log backup";
            case CONFIG -> "config backup";
            case FULL -> "full";
        };
    }

    /** A moment in a sentence, of a database whose zone is said elsewhere: "24 Nov 22:00". */
    public static String shortMoment(Instant moment, ZoneId zone) {
        return MOMENT.format(moment.atZone(zone));
    }

    private static final String[] UNITS = {"B", "kB", "MB", "GB", "TB", "PB"};

    /** A number of bytes in decimal units: "0 B", "950 MB", "1.4 TB". */
    public static String bytes(double bytes) {
        int unit = 0;
        double shown = bytes;
        while (shown >= 999.5 && unit < UNITS.length - 1) {
            shown /= 1000;
            unit++;
        }
        return String.format(Locale.ROOT, unit > 0 && shown < 9.95 ? "%.1f" : "%.0f", shown) + " " + UNITS[unit];
    }

    /** A moment on a clock: "24 Nov 22:00 Europe/Lisbon". */
    public static String moment(Instant moment, ZoneId zone) {
        return shortMoment(moment, zone) + " " + zone.getId();
    }

    /** What somebody or something said, in quotation marks, to follow a clause; nothing where nothing was said. */
    static String quoted(Optional<String> message) {
        return message.map(m -> ": “" + m + "”").orElse("");
    }

    /** Some words as a list: "a", "a and b", "a, b and c". */
    public static String joined(List<String> words) {
        return words.size() < 2
                ? String.join("", words)
                : String.join(", ", words.subList(0, words.size() - 1)) + " and " + words.get(words.size() - 1);
    }
}
