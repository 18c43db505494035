package firth.core.stocktake;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HexFormat;
import java.util.Map;
import java.util.OptionalLong;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The checksum of a copy that is a directory, over the names and sizes of its members: {@code members:COUNT:SHA-256}, of the lines PATH TAB
 * SIZE LF in the order of the bytes of their paths, which go from the copy's root (docs/stocktake.md). It tells members that are missing,
 * added, renamed or of another size, and nothing of what is in them.
 */
public final class MemberSum {

    private static final String METHOD = "members:";
    private static final Pattern FORM = Pattern.compile(METHOD + "(\\d{1,18}):\\p{XDigit}{64}");

    private MemberSum() {}

    /** @param sizes in bytes, by path with slashes */
    public static String of(Map<String, Long> sizes) {
        Map<byte[], Long> ordered = new TreeMap<>((Comparator<byte[]>) Arrays::compareUnsigned);
        sizes.forEach((path, size) -> ordered.put(path.getBytes(StandardCharsets.UTF_8), size));
        MessageDigest digest;
        try {
            digest = MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
        ordered.forEach((path, size) -> {
            digest.update(path);
            digest.update(("\t" + size + "\n").getBytes(StandardCharsets.UTF_8));
        });
        return METHOD + ordered.size() + ":" + HexFormat.of().formatHex(digest.digest());
    }

    /** Whether a checksum is one over members. */
    public static boolean is(String checksum) {
        return FORM.matcher(checksum).matches();
    }

    /** Over how many members a checksum is; empty where it is none of members. */
    public static OptionalLong count(String checksum) {
        Matcher form = FORM.matcher(checksum);
        return form.matches() ? OptionalLong.of(Long.parseLong(form.group(1))) : OptionalLong.empty();
    }
}
