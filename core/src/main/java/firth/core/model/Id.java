package firth.core.model;

/** What may be an id: of a record, or of what a record names. */
public final class Id {

    /** The longest id, in characters. */
    public static final int LONGEST = 120;

    /** What an id is not, said after its name. */
    public static final String IS_NONE = "is not an id: 1 to 120 letters, digits or . _ - : /";

    private Id() {}

    /** Whether a text is 1 to {@link #LONGEST} letters of the Latin alphabet without marks, digits or {@code . _ - : /}. */
    public static boolean isId(String text) {
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            boolean letter = c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z';
            if (!letter && (c < '0' || c > '9') && "._-:/".indexOf(c) < 0) {
                return false;
            }
        }
        return !text.isEmpty() && text.length() <= LONGEST;
    }
}
