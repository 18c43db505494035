package firth.core.stocktake;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.Seeds;
import firth.core.model.Evidence;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;
import java.util.Random;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class StocktakeTest {

    private static final Instant TAKEN = Instant.parse("2026-11-20T10:00:00Z");
    private static final Instant LANDED = TAKEN.minus(Duration.ofDays(3));

    private static boolean isCompanion(String name) {
        return name.endsWith(".history");
    }

    private static KnownCopy held(String id, double bytes) {
        return new KnownCopy(
                id,
                "d",
                "/s/" + id,
                LANDED,
                OptionalDouble.of(bytes),
                Optional.of("sha256:" + id),
                Optional.empty(),
                KnownCopy.Presence.THERE);
    }

    private static KnownCopy gone(String id) {
        KnownCopy h = held(id, 10);
        return new KnownCopy(
                h.backup(),
                h.database(),
                h.path(),
                h.landed(),
                h.bytes(),
                h.checksum(),
                h.lockedUntil(),
                KnownCopy.Presence.NOT_THERE);
    }

    private static Listed file(String path, long size) {
        return new Listed(path, OptionalLong.of(size), Optional.of(LANDED), Optional.empty(), Optional.empty());
    }

    private static List<String> compared(List<KnownCopy> catalog, List<Listed> listing) {
        return Stocktake.compare(catalog, listing, TAKEN, StocktakeTest::isCompanion).differences().stream()
                .map(d -> d.what().word() + " "
                        + d.held().map(KnownCopy::backup).orElse("-") + " "
                        + d.listed().map(Listed::path).orElse("-"))
                .toList();
    }

    @Test
    void nothingDiffersWhereNothingIs() {
        Stocktake none = Stocktake.compare(List.of(), List.of(), TAKEN, StocktakeTest::isCompanion);
        assertEquals(0, none.agreed());
        assertEquals(List.of(), none.differences());
    }

    @Test
    void showsOfWhatAgreesASizeOrAChecksum() {
        KnownCopy h = held("b", 10);
        KnownCopy summed = new KnownCopy(
                "b",
                "d",
                h.path(),
                LANDED,
                h.bytes(),
                Optional.of("sha256:1"),
                Optional.empty(),
                KnownCopy.Presence.THERE);
        Listed same =
                new Listed("s/b", OptionalLong.of(10), Optional.empty(), Optional.of("SHA256:1"), Optional.empty());
        Listed bare = new Listed("s/c", OptionalLong.empty(), Optional.empty(), Optional.empty(), Optional.empty());
        Stocktake stock = Stocktake.compare(
                List.of(held("a", 10), summed, held("c", 10), held("d", 9)),
                List.of(file("s/a", 10), same, bare, file("s/d", 10)),
                TAKEN,
                StocktakeTest::isCompanion);
        assertEquals(Map.of("a", Evidence.LISTED, "b", Evidence.CHECKED), stock.seen());
        assertEquals(3, stock.agreed());
    }

    @Test
    void tellsMissingMismatchAndStray() {
        assertEquals(
                List.of("missing b -", "mismatch c s/c", "stray - s/x"),
                compared(
                        List.of(held("a", 10), held("b", 10), held("c", 10.4)),
                        List.of(file("s/a", 10), file("s/c", 7), file("s/x", 1))));
    }

    @Test
    void aSizeIsTheSameWithinAByteAndAChecksumDecides() {
        assertEquals(List.of(), compared(List.of(held("a", 10.4)), List.of(file("s/a", 10))));
        Listed other =
                new Listed("s/a", OptionalLong.of(10), Optional.empty(), Optional.of("SHA256:B"), Optional.empty());
        assertEquals(List.of("mismatch a s/a"), compared(List.of(held("a", 10)), List.of(other)));
        Listed same =
                new Listed("s/a", OptionalLong.empty(), Optional.empty(), Optional.of("SHA256:A"), Optional.empty());
        assertEquals(List.of(), compared(List.of(held("a", 10)), List.of(same)));
    }

    @Test
    void whatIsOnRecordAsGoneAndStillThereIsAStrayThatIsKnown() {
        assertEquals(List.of("stray a s/a"), compared(List.of(gone("a")), List.of(file("s/a", 10))));
        assertEquals(List.of("stray a elsewhere/a"), compared(List.of(gone("a")), List.of(file("elsewhere/a", 10))));
        assertEquals(List.of(), compared(List.of(gone("a")), List.of()));
    }

    @Test
    void whatIsKnownToBeSpoiledIsNoNews() {
        KnownCopy h = held("a", 10);
        KnownCopy spoiled = new KnownCopy(
                "a", "d", h.path(), LANDED, h.bytes(), h.checksum(), Optional.empty(), KnownCopy.Presence.SPOILED);
        assertEquals(List.of(), compared(List.of(spoiled), List.of(file("s/a", 10))));
        assertEquals(List.of(), compared(List.of(spoiled), List.of()));
    }

    @Test
    void whatLandedJustNowIsNeitherMissingNorStray() {
        KnownCopy h = held("a", 10);
        KnownCopy young = new KnownCopy(
                "a",
                "d",
                h.path(),
                TAKEN.minusSeconds(30),
                h.bytes(),
                h.checksum(),
                Optional.empty(),
                KnownCopy.Presence.THERE);
        assertEquals(List.of(), compared(List.of(young), List.of()));
        assertEquals(List.of(), compared(List.of(young), List.of(file("s/a", 3))));
    }

    @Test
    void twoThatClaimOnePathAreFound() {
        KnownCopy b = new KnownCopy(
                "b",
                "d",
                "/s/a",
                LANDED,
                OptionalDouble.of(10),
                Optional.empty(),
                Optional.empty(),
                KnownCopy.Presence.THERE);
        assertEquals(List.of("claimed b s/a"), compared(List.of(held("a", 10), b), List.of(file("s/a", 10))));
    }

    @Test
    void aLockThatIsNotThereIsFoundWhereTheStoreTellsLocks() {
        KnownCopy h = held("a", 10);
        KnownCopy locked = new KnownCopy(
                "a",
                "d",
                h.path(),
                LANDED,
                h.bytes(),
                Optional.empty(),
                Optional.of(TAKEN.plusSeconds(9000)),
                KnownCopy.Presence.THERE);
        Listed until = new Listed(
                "s/b", OptionalLong.of(1), Optional.empty(), Optional.empty(), Optional.of(TAKEN.plusSeconds(9)));
        assertEquals(List.of(), compared(List.of(locked), List.of(file("s/a", 10))), "it tells of no lock at all");
        assertEquals(List.of("lock a s/a", "stray - s/b"), compared(List.of(locked), List.of(file("s/a", 10), until)));
        assertEquals(List.of("lock a s/a"), compared(List.of(locked), List.of(locked("s/a", Listed.Lock.NONE))));
        assertEquals(
                List.of(),
                compared(List.of(locked), List.of(locked("s/a", Listed.Lock.OPEN))),
                "it is locked, and nobody knows until when");
        assertEquals(
                List.of("lock a s/a"),
                compared(
                        List.of(locked),
                        List.of(
                                locked("s/a/1", Listed.Lock.OPEN),
                                locked("s/a/2", Listed.Lock.NONE),
                                locked("s/a/3", Listed.Lock.OPEN))),
                "one member is not");
    }

    private static Listed locked(String path, Listed.Lock lock) {
        long size = path.endsWith("/1") ? 3 : path.endsWith("/2") ? 5 : path.endsWith("/3") ? 2 : 10;
        return new Listed(path, OptionalLong.of(size), Optional.of(LANDED), Optional.empty(), lock, Optional.empty());
    }

    @Test
    void whatLiesBehindALinkIsNeitherThereNorMissing() {
        Listed link = new Listed("s", OptionalLong.empty(), Optional.empty(), Optional.empty(), Optional.empty());
        Stocktake behind = Stocktake.compare(List.of(held("a", 10)), List.of(link), TAKEN, StocktakeTest::isCompanion);
        assertEquals(1, behind.unplaced());
        assertEquals(0, behind.count(Difference.Manner.MISSING));
        assertEquals(
                List.of("missing a -", "stray - s"),
                compared(List.of(held("a", 10)), List.of(file("s", 3))),
                "a file stands where its directory was");
    }

    @Test
    void checksumsOfDifferentMethodsSayNothingOfOneAnother() {
        KnownCopy h = held("a", 10);
        KnownCopy summed = new KnownCopy(
                "a",
                "d",
                h.path(),
                LANDED,
                h.bytes(),
                Optional.of("crc32c:1"),
                Optional.empty(),
                KnownCopy.Presence.THERE);
        Listed other =
                new Listed("s/a", OptionalLong.of(10), Optional.empty(), Optional.of("sha256:2"), Optional.empty());
        Listed same =
                new Listed("s/a", OptionalLong.of(10), Optional.empty(), Optional.of("CRC32C:2"), Optional.empty());
        assertEquals(List.of(), compared(List.of(summed), List.of(other)));
        assertEquals(List.of("mismatch a s/a"), compared(List.of(summed), List.of(same)));
    }

    static LongStream seeds() {
        return Seeds.upTo(100);
    }

    /** Whatever is done to the files, each copy and each file is accounted for once. */
    @ParameterizedTest
    @MethodSource("seeds")
    void everythingIsAccountedForOnce(long seed) {
        Random random = new Random(seed);
        List<KnownCopy> catalog = new ArrayList<>();
        List<Listed> listing = new ArrayList<>();
        int missing = 0;
        int mismatch = 0;
        int stray = 0;
        int agreed = 0;
        for (int i = 0; i < 30; i++) {
            boolean there = random.nextInt(4) > 0;
            catalog.add(there ? held("b" + i, 10) : gone("b" + i));
            int what = random.nextInt(4);
            if (what > 0) {
                listing.add(file("s/b" + i, what == 1 ? 3 : 10));
            }
            missing += there && what == 0 ? 1 : 0;
            mismatch += there && what == 1 ? 1 : 0;
            agreed += there && what > 1 ? 1 : 0;
            stray += !there && what > 0 ? 1 : 0;
        }
        Collections.shuffle(listing, random);
        Stocktake taken = Stocktake.compare(catalog, listing, TAKEN, StocktakeTest::isCompanion);
        assertEquals(missing, taken.count(Difference.Manner.MISSING));
        assertEquals(mismatch, taken.count(Difference.Manner.MISMATCH));
        assertEquals(stray, taken.count(Difference.Manner.STRAY));
        assertEquals(agreed, taken.agreed());
        assertTrue(taken.differences().stream().allMatch(d -> d.spoils() == (d.what() != Difference.Manner.STRAY)));
    }

    @Test
    void aCopyMayBeADirectoryWithAllThatIsBelowIt() {
        List<KnownCopy> catalog = List.of(held("full", 30));
        assertEquals(
                List.of(),
                compared(catalog, List.of(file("s/full/a", 10), file("s/full/sub/b", 20))),
                "as large together");
        assertEquals(
                List.of("mismatch full /s/full"),
                compared(catalog, List.of(file("/s/full/a", 10))).stream()
                        .map(d -> d.replace(" s/full", " /s/full"))
                        .toList(),
                "a member is missing");
        assertEquals(List.of("missing full -"), compared(catalog, List.of()));
        assertEquals(
                List.of("missing full -", "stray - /s/fuller"),
                compared(catalog, List.of(file("/s/fuller", 30))),
                "a name that only begins alike is another");
    }

    @Test
    void aFileThatBelongsToACopyIsAStrayOnceThatIsGone() {
        Stocktake.Naming naming = new Stocktake.Naming() {
            @Override
            public boolean isCompanion(String name) {
                return false;
            }

            @Override
            public Optional<String> root(String path) {
                return path.endsWith("-wal") ? Optional.of(path.substring(0, path.length() - 4)) : Optional.empty();
            }
        };
        Listed beside = file("s/full-wal", 7);
        assertEquals(
                List.of(),
                Stocktake.compare(List.of(held("full", 30)), List.of(file("/s/full", 30), beside), TAKEN, naming)
                        .differences());
        assertEquals(
                List.of(Difference.Manner.STRAY),
                Stocktake.compare(List.of(gone("full")), List.of(beside), TAKEN, naming).differences().stream()
                        .map(Difference::what)
                        .toList());
    }

    @Test
    void theMembersOfADirectoryAreComparedByNameAndSize() {
        KnownCopy h = held("full", 30);
        KnownCopy copy = new KnownCopy(
                h.backup(),
                h.database(),
                h.path(),
                h.landed(),
                h.bytes(),
                Optional.of(MemberSum.of(Map.of("a", 10L, "sub/b", 20L))),
                h.lockedUntil(),
                h.state());
        Listed a = file("/s/full/a", 10);
        Listed b = file("s/full/sub/b", 20);
        Stocktake right = Stocktake.compare(List.of(copy), List.of(a, b), TAKEN, n -> false);
        assertEquals(List.of(), right.differences());
        assertEquals(Map.of("full", Evidence.LISTED), right.seen(), "names and sizes say nothing of what is in them");
        assertEquals(
                new Clue.OtherMembers(2, 2),
                clue(copy, a, file("s/full/sub/c", 20)),
                "another of the same size is in its place");
        assertEquals(new Clue.OtherMembers(2, 2), clue(copy, file("/s/full/a", 20), file("s/full/sub/b", 10)));
        assertEquals(new Clue.OtherMembers(1, 2), clue(copy, file("/s/full/a", 30)), "one is not there");
        assertEquals(new Clue.OtherMembers(3, 2), clue(copy, a, b, file("s/full/empty", 0)), "one was added");
        Listed unread =
                new Listed("s/full/sub/b", OptionalLong.empty(), Optional.empty(), Optional.empty(), Optional.empty());
        assertEquals(
                1,
                Stocktake.compare(List.of(copy), List.of(a, unread), TAKEN, n -> false)
                        .agreed(),
                "what the store does not look into says nothing");
    }

    private static Clue clue(KnownCopy copy, Listed... listing) {
        List<Difference> found = Stocktake.compare(List.of(copy), List.of(listing), TAKEN, n -> false)
                .differences();
        assertEquals(1, found.size(), found.toString());
        assertEquals(Difference.Manner.MISMATCH, found.get(0).what());
        return found.get(0).clue();
    }

    @Test
    void aSumOverMembersIsOfNoOrderAndIsToldFromOthers() {
        String sum = MemberSum.of(Map.of("b", 2L, "a", 1L, "ä/ü", 3L));
        assertEquals(
                "members:3:" + HexFormat.of().formatHex(sha256("a\t1\nb\t2\nä/ü\t3\n")),
                sum,
                "as docs/stocktake.md says");
        assertTrue(MemberSum.is(sum));
        assertEquals(OptionalLong.of(3), MemberSum.count(sum));
        assertEquals(OptionalLong.empty(), MemberSum.count("sha256:" + sum.substring(10)));
        assertEquals(OptionalLong.of(0), MemberSum.count(MemberSum.of(Map.of())));
    }

    private static byte[] sha256(String text) {
        try {
            return MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.UTF_8));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    @Test
    void whatIsBelowACopyThatIsKnownToBeSpoiledIsNoStray() {
        KnownCopy h = held("full", 30);
        KnownCopy spoiled = new KnownCopy(
                h.backup(),
                h.database(),
                h.path(),
                h.landed(),
                h.bytes(),
                h.checksum(),
                h.lockedUntil(),
                KnownCopy.Presence.SPOILED);
        assertEquals(List.of(), compared(List.of(spoiled), List.of(file("/s/full/a", 10))));
    }

    @Test
    void aCompanionIsNoStray() {
        assertEquals(
                List.of("stray - /s/00000002.histories"),
                compared(List.of(), List.of(file("/s/00000002.history", 40), file("/s/00000002.histories", 40))));
    }
}
