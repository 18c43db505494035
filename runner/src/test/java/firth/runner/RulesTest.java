package firth.runner;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** How backups may be taken and copied. */
class RulesTest {

    private static final Instant NIGHT = Instant.parse("2026-11-30T23:00:00Z");
    private static final Instant NOON = Instant.parse("2026-11-30T12:00:00Z");

    @TempDir
    private Path directory;

    private static Rules.Asked asked(Instant moment, String more) throws IOException {
        String policy = "{\"type\":\"policy\",\"id\":\"p\",\"effectiveFrom\":\"2026-01-01T00:00:00Z\",\"name\":\"P\","
                + "\"openHours\":[{\"days\":[\"MO\",\"TU\",\"WE\",\"TH\",\"FR\",\"SA\",\"SU\"],\"from\":\"22:00\",\"to\":\"06:00\"}]"
                + more + "}";
        String database =
                "{\"type\":\"database\",\"id\":\"d\",\"zone\":\"UTC\",\"policy\":\"p\",\"inServiceFrom\":\"2026-01-01T00:00:00Z\"}";
        return Rules.of(List.of(policy, database), "d", "pier", moment);
    }

    private static OptionalDouble at(Instant moment, String limits) throws IOException {
        return asked(moment, limits).most().into("near");
    }

    @Test
    void theLeastThatHoldsAtTheHourCounts() throws IOException {
        String by =
                ",\"rateLimits\":[{\"bytesPerSecond\":5e7,\"hours\":\"closed\"},{\"bytesPerSecond\":9e7,\"hours\":\"open\"},"
                        + "{\"bytesPerSecond\":7e7}]";
        assertEquals(OptionalDouble.of(7e7), at(NIGHT, by));
        assertEquals(OptionalDouble.of(5e7), at(NOON, by));
        assertEquals(
                OptionalDouble.empty(), at(NIGHT, ",\"rateLimits\":[{\"bytesPerSecond\":5e7,\"hours\":\"closed\"}]"));
        assertEquals(OptionalDouble.empty(), at(NOON, ""));
        assertEquals(
                OptionalDouble.empty(),
                Rules.of(List.of(), "d", "pier", NOON).most().into("near"));
    }

    @Test
    void aLimitMayBeForAStoreAHostOrHoursOfItsOwn() throws IOException {
        String by =
                ",\"rateLimits\":[{\"bytesPerSecond\":5e7,\"store\":\"far\"},{\"bytesPerSecond\":6e7,\"host\":\"pier\"},"
                        + "{\"bytesPerSecond\":1e7,\"host\":\"quay\"},"
                        + "{\"bytesPerSecond\":2e7,\"days\":[\"MO\"],\"from\":\"22:00\"}]";
        assertEquals(OptionalDouble.of(6e7), asked(NOON, by).most().into("near"));
        assertEquals(OptionalDouble.of(5e7), asked(NOON, by).most().into("far"));
        assertEquals(OptionalDouble.of(2e7), asked(NIGHT, by).most().into("far"), "the last of November is a Monday");
        assertEquals(
                OptionalDouble.of(6e7),
                asked(NIGHT.plusSeconds(3600), by).most().into("near"),
                "Tuesday");
    }

    @Test
    void theRunnerDeletesAtTheSourceWhereThatIsLeftToIt() throws IOException {
        assertEquals(
                Optional.of(2),
                asked(NOON, ",\"sourceLogs\":{\"deletedBy\":\"runner\",\"afterCopies\":2}")
                        .afterCopies());
        assertEquals(
                Optional.of(1),
                asked(NOON, ",\"sourceLogs\":{\"deletedBy\":\"runner\"}").afterCopies(),
                "never before it has one");
        assertEquals(
                Optional.empty(),
                asked(NOON, ",\"sourceLogs\":{\"deletedBy\":\"engine\",\"afterCopies\":2}")
                        .afterCopies());
        assertEquals(Optional.empty(), asked(NOON, "").afterCopies());
    }

    @Test
    void whatIsToBeCompressedIsDemanded() throws IOException {
        assertTrue(asked(NOON, ",\"demands\":{\"compressed\":true}").compressed());
        assertFalse(asked(NOON, ",\"demands\":{\"compressed\":false}").compressed());
        assertFalse(asked(NOON, "").compressed());
    }

    @Test
    void copyingIsHeldBackToIt() throws InterruptedException {
        Random random = new Random(7);
        for (int trial = 0; trial < 50; trial++) {
            double most = 1_000 + random.nextInt(1_000_000);
            long[] now = {random.nextLong() >> 2};
            long begun = now[0];
            Throttle throttle = new Throttle(() -> OptionalDouble.of(most), () -> now[0], n -> now[0] += n);
            long bytes = 0;
            for (int piece = 0; piece < 100; piece++) {
                int n = random.nextInt(300_000);
                now[0] += random.nextInt(1_000_000_000);
                throttle.copied(n);
                bytes += n;
            }
            double took = (now[0] - begun) / 1e9;
            assertTrue(took >= bytes / most - 2, bytes + " bytes at " + most + " a second took " + took);
        }
        long[] slept = {0};
        new Throttle(OptionalDouble::empty, () -> 0, n -> slept[0] += n).copied(1 << 30);
        assertEquals(0, slept[0], "without a limit nothing is held back");
    }

    @Test
    void whatIsCopiedSlowlyIsTheSameAndAsOld() throws IOException {
        byte[] content = new byte[700_000];
        new Random(3).nextBytes(content);
        Path from = Files.createDirectories(directory.resolve("near/d/base"));
        Files.write(from.resolve("file"), content);
        FileTime old = FileTime.from(NOON);
        Files.setLastModifiedTime(from.resolve("file"), old);
        List<Long> slept = new ArrayList<>();
        long[] now = {0};
        Throttle throttle = new Throttle(() -> OptionalDouble.of(100_000), () -> now[0], n -> {
            slept.add(n);
            now[0] += n;
        });
        Path far = Files.createDirectory(directory.resolve("far"));
        new StoreDirectory("far", far).copy(from, "d/base", throttle);
        assertArrayEquals(content, Files.readAllBytes(far.resolve("d/base/file")));
        assertEquals(old, Files.getLastModifiedTime(far.resolve("d/base/file")));
        assertEquals(7.0, now[0] / 1e9, 0.01);
        assertTrue(slept.size() >= 3, slept.toString());
    }

    @Test
    void theEngineIsToldInItsOwnUnits() {
        assertEquals("--max-rate=48828k", PostgresInstance.maxRate(5e7));
        assertEquals("--max-rate=32k", PostgresInstance.maxRate(1));
        assertEquals("--max-rate=1048576k", PostgresInstance.maxRate(1e12));
    }
}
