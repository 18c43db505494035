package firth.exchange;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.stocktake.Listed;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;

class ListingReaderTest {

    private static ListingReader.Listing read(String text) throws IOException {
        return ListingReader.read(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)));
    }

    @Test
    void readsLinesAndTablesAlike() throws IOException {
        ListingReader.Listing lines = read("""
                {"path":"/a,b","size":12,"time":"2026-11-01T00:00:00Z","checksum":"sha256:x","lockedUntil":"2026-12-01T00:00:00Z"}
                {"path":"/c"}
                """);
        ListingReader.Listing table = read("""
                path,size,time,checksum,lockedUntil
                "/a,b",12,2026-11-01T00:00:00Z,sha256:x,2026-12-01T00:00:00Z
                /c,,,,
                """);
        assertEquals(lines.files(), table.files());
        Listed first = lines.files().get(0);
        assertEquals("/a,b", first.path());
        assertEquals(12, first.size().getAsLong());
        assertEquals(Instant.parse("2026-12-01T00:00:00Z"), first.lockedUntil().orElseThrow());
        assertEquals(0, lines.bad());
    }

    @Test
    void namesTheLinesItCannotReadAndKeepsTheOthers() throws IOException {
        ListingReader.Listing read = read("""
                path,size,time
                /a,12,2026-11-01T00:00:00Z
                ,1,2026-11-01T00:00:00Z
                /b,big,
                /c,3,yesterday
                """);
        assertEquals(1, read.files().size());
        assertEquals(
                List.of(
                        "line 3: path is missing",
                        "line 4: size is not a whole number of bytes: big",
                        "line 5: time is not an instant such as 2026-11-23T09:12:00Z: yesterday"),
                read.flaws());
        assertEquals(3, read.bad());
        assertEquals(1, read("{\"path\":\"/a\"}\n{broken\n").bad());
    }

    @Test
    void readsWhatKeepsAFileFromBeingDeleted() throws IOException {
        ListingReader.Listing read = read("""
                {"path":"/a","lock":"none"}
                {"path":"/b","lock":"immutable"}
                {"path":"/c","lock":"read-only"}
                {"path":"/d","lock":"until","lockedUntil":"2026-12-01T00:00:00Z"}
                {"path":"/e"}
                {"path":"/f","lock":"bolted"}
                """);
        assertEquals(
                List.of(Listed.Lock.NONE, Listed.Lock.OPEN, Listed.Lock.OPEN, Listed.Lock.UNTIL, Listed.Lock.UNKNOWN),
                read.files().stream().map(Listed::lock).toList());
        assertEquals(List.of("line 6: lock is none of none, until, immutable, read-only: bolted"), read.flaws());
    }

    @Test
    void saysThatAnotherTableIsNoListing() throws IOException {
        assertEquals(1, read("name,bytes\nx,1\n").bad());
        assertEquals(0, read("").files().size());
    }
}
