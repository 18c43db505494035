package firth.core.findings;

import java.time.Duration;

/** How figures are said in sentences. */
public final class Wording {

    private Wording() {}

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
            return minutes / 60 + " h " + String.format("%02d", minutes % 60);
        }
        return seconds >= 60 ? Math.round(seconds / 60.0) + " min" : seconds + " s";
    }
}
