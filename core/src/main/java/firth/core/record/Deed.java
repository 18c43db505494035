package firth.core.record;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.HexFormat;
import java.util.List;
import java.util.Objects;

/**
 * One entry of the record: something somebody did, chained to the entry before it (docs/record.md).
 *
 * @param number counts from 1 without a hole
 * @param at when it was written down, to the millisecond
 * @param who the id of the person or program that did it
 * @param act what was done, in a word or two such as {@code purge-approved}
 * @param about what it was done to
 * @param detail the rest, as text of a JSON object
 * @param previous the hash of the entry before; 64 zeros before the first
 * @param hash SHA-256 over all of the above, in hexadecimal
 */
public record Deed(
        long number, Instant at, String who, String act, String about, String detail, String previous, String hash) {

    /** What stands in the place of the hash before the first entry. */
    public static final String BEFORE_FIRST = "0".repeat(64);

    public Deed {
        for (Object part : List.of(at, who, act, about, detail, previous, hash)) {
            Objects.requireNonNull(part);
        }
        if (number < 1) {
            throw new IllegalArgumentException("the number " + number + " of an entry is not counted from 1");
        }
    }

    /** Something done that is not yet in the record. */
    public record Told(String who, String act, String about, String detail) {}

    /** The entry that follows one with this number and hash; 0 and {@link #BEFORE_FIRST} for the first. */
    public static Deed after(long number, String previous, Told told, Instant at) {
        Instant moment = at.truncatedTo(ChronoUnit.MILLIS);
        Deed open = new Deed(number + 1, moment, told.who(), told.act(), told.about(), told.detail(), previous, "");
        return new Deed(
                open.number, moment, told.who(), told.act(), told.about(), told.detail(), previous, open.computed());
    }

    /** The hash this entry ought to have by what it says. */
    public String computed() {
        MessageDigest digest = Digests.sha256();
        for (String part :
                List.of(Long.toString(number), Long.toString(at.toEpochMilli()), who, act, about, detail, previous)) {
            byte[] bytes = part.getBytes(StandardCharsets.UTF_8);
            // The length before each part, so that no two entries read the same.
            digest.update((bytes.length + ":").getBytes(StandardCharsets.US_ASCII));
            digest.update(bytes);
        }
        return HexFormat.of().formatHex(digest.digest());
    }
}
