package firth.core.model;

import java.util.Locale;

/** Names that somebody may have meant to be the same: one is written with other capitals or signs, or a letter is off. */
public final class NearMiss {

    /** Shorter names differ by a letter too easily to mean the same. */
    private static final int LONG_ENOUGH = 5;

    private NearMiss() {}

    /** Whether two names differ, but hardly. */
    public static boolean between(String one, String other) {
        if (one.equals(other)) {
            return false;
        }
        String a = plain(one);
        String b = plain(other);
        return a.equals(b) || Math.min(a.length(), b.length()) >= LONG_ENOUGH && oneOff(a, b);
    }

    private static String plain(String name) {
        return name.toLowerCase(Locale.ROOT).replaceAll("[^\\p{L}\\p{N}]", "");
    }

    /** Whether a letter was changed, left out or added. */
    private static boolean oneOff(String a, String b) {
        String longer = a.length() >= b.length() ? a : b;
        String shorter = a.length() >= b.length() ? b : a;
        int same = 0;
        while (same < shorter.length() && shorter.charAt(same) == longer.charAt(same)) {
            same++;
        }
        return switch (longer.length() - shorter.length()) {
            case 0 ->
                shorter.substring(Math.min(same + 1, shorter.length()))
                        .equals(longer.substring(Math.min(same + 1, longer.length())));
            case 1 -> shorter.substring(same).equals(longer.substring(same + 1));
            default -> false;
        };
    }
}
