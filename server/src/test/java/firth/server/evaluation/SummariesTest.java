package firth.server.evaluation;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding;
import firth.core.model.Hazard;
import firth.exchange.ToldFindings;
import firth.server.ToldFacts;
import firth.server.platform.FactsHolder;
import firth.store.Snapshot;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.LongStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What is kept of every database is what a fresh look would say, whatever has changed; and nobody is looked at in vain. */
class SummariesTest {

    private static final Instant BEGIN = Instant.parse("2026-11-20T00:00:00Z");
    private static final int DATABASES = 6;
    private static final int STEPS = 400;

    @TempDir
    private Path directory;

    private final Clock clock = mock(Clock.class);
    private FactsHolder facts;
    private Lookout lookout;
    private Evaluations evaluations;
    private Summaries summaries;
    private final SummaryPart<String> said = this::said;
    private final SummaryPart<String> graded = new Graded();

    /** What Watch would tell. */
    private static final class Graded implements SummaryPart<String> {
        @Override
        public String of(Answered one) {
            return one.answer().grade().word();
        }

        @Override
        public Object told(String value) {
            return value;
        }
    }

    private Instant now = BEGIN.plus(Duration.ofHours(30));

    @BeforeEach
    void open() throws IOException {
        when(clock.instant()).thenAnswer(asked -> now);
        facts = new FactsHolder(directory.resolve("firth.db").toString());
        lookout = new Lookout(facts, clock);
        evaluations = new Evaluations(facts);
        summaries = new Summaries(facts, evaluations, List.of(said, graded));
        tell("{\"type\":\"site\",\"id\":\"north\",\"name\":\"Northquay\"}");
        tell(store("near", 0));
        tell(store("far", 0));
        tell(policy("p", 1, BEGIN, 60));
        tell(policy("q", 1, BEGIN, 180));
        for (int d = 0; d < DATABASES; d++) {
            tell(database(d, "p", ""));
            tell(full(d, 0, BEGIN, "", Optional.empty()));
        }
    }

    @AfterEach
    void close() {
        facts.store().close();
    }

    private static String store(String id, int capacity) {
        return """
                {"type":"store","id":"%s","name":"Quay %s","role":"%s","site":"%s"%s}\
                """.formatted(
                        id,
                        id,
                        id,
                        id.equals("near") ? "north" : "south",
                        capacity == 0 ? "" : ",\"capacityBytes\":" + capacity);
    }

    private static String policy(String id, int version, Instant from, int minutes) {
        return """
                {"type":"policy","id":"%s","version":%s,"effectiveFrom":"%s","name":"Class %s","objective":{"mishap":"PT%sM","reach":"P2D","drillEvery":"P30D"},\
                "schedules":[{"id":"logs","kind":"log","every":"PT30M","grace":"PT5M"},{"id":"nightly","kind":"full","rrule":"FREQ=DAILY;BYHOUR=1;BYMINUTE=0","within":"PT2H"}],\
                "retain":[{"role":"near","reach":"P2D"}]}\
                """.formatted(id, version, from, id, minutes);
    }

    private static String database(int d, String policy, String more) {
        return """
                {"type":"database","id":"d%s","name":"berths %s","site":"north","zone":"Europe/Lisbon","policy":"%s","inServiceFrom":"%s"%s}\
                """.formatted(d, d, policy, BEGIN, more);
    }

    /** @param path where its copy lies; empty: nobody said */
    private static String full(int d, int n, Instant at, String path, Optional<Instant> gone) {
        return """
                {"type":"backup","id":"f%s-%s","database":"d%s","kind":"full","selfContained":true,"started":"%s","ended":"%s","bytes":1000,"from":%s,"to":%s,\
                "copies":[{"store":"near","landed":"%s"%s%s}]}\
                """.formatted(
                        d,
                        n,
                        d,
                        at,
                        at,
                        at.getEpochSecond(),
                        at.getEpochSecond(),
                        at,
                        path.isEmpty() ? "" : ",\"path\":\"" + path + "\"",
                        gone.map(g -> ",\"gone\":\"" + g + "\"").orElse(""));
    }

    private static String log(int d, int n, Instant from, Instant to) {
        return """
                {"type":"backup","id":"l%s-%s","database":"d%s","kind":"log","bytes":10,"from":%s,"to":%s,"fromTime":"%s","toTime":"%s","ended":"%s",\
                "copies":[{"store":"near","landed":"%s"},{"store":"far","landed":"%s"}]}\
                """.formatted(
                        d, n, d, from.getEpochSecond(), to.getEpochSecond(), from, to, to, to, to.plusSeconds(300));
    }

    private void tell(String lines) throws IOException {
        ToldFacts.tell(facts, lines, now);
    }

    /** Everything but how old something is. */
    private String said(Answered one) {
        Evaluation e = one.answer();
        List<String> out = new ArrayList<>();
        out.add(e.grade() + " " + e.version().map(v -> v.id() + v.version()) + " " + e.onboarding());
        for (Hazard hazard : Hazard.values()) {
            out.add(hazard + " " + e.under(hazard).isMissed() + " "
                    + e.under(hazard).restorable());
        }
        e.gaps().forEach(g -> out.add(g.toString()));
        e.slots().forEach(s -> out.add(s.schedule() + " " + s.open() + " " + s.verdict()));
        for (int r = 0; r < e.retention().size(); r++) {
            out.add(e.history().id(e.retention().backup(r)) + " "
                    + e.retention().store(r) + " " + e.retention().verdict(r) + " "
                    + e.retention().reasons(r));
        }
        try (Snapshot snapshot = facts.store().read()) {
            List<Finding> found = ToldFindings.all(
                    e,
                    one.facts(),
                    one.fleet(),
                    new StoredBackups(snapshot, List.of(one.id())),
                    one.now().drills(one.id()));
            found.forEach(f -> out.add(f.key() + " " + f.since() + " " + f.severity()));
        }
        return one.id() + "\n" + String.join("\n", out);
    }

    private List<String> kept() {
        return summaries.all(lookout.view("", ""), said).each();
    }

    private List<String> fresh() {
        return evaluations.once(d -> true, lookout.view("", "")).answers().stream()
                .map(e -> said(new Answered(evaluations.fleetNow(), e, lookout.view("", ""))))
                .toList();
    }

    static LongStream seeds() {
        return LongStream.range(0, 3L * Integer.getInteger("firth.thorough", 1));
    }

    @ParameterizedTest(name = "seed {0}")
    @MethodSource("seeds")
    void whatIsKeptIsWhatAFreshLookSays(long seed) throws IOException {
        Random random = new Random(seed);
        Instant[] reached = new Instant[DATABASES];
        java.util.Arrays.fill(reached, BEGIN);
        for (int n = 1; n <= STEPS; n++) {
            String did = change(random, n, reached);
            assertEquals(String.join("\n", fresh()), String.join("\n", kept()), "after " + did + " at " + now);
            try (Snapshot snapshot = facts.store().read()) {
                FleetStanding standing = evaluations.standing(snapshot);
                assertEquals(FleetStanding.of(snapshot, standing.fleet()), standing, "after " + did);
            }
        }
    }

    private String change(Random random, int n, Instant[] reached) throws IOException {
        int d = random.nextInt(DATABASES);
        int what = random.nextInt(14);
        switch (what) {
            case 0, 1, 2, 3 -> {
                Instant to = now.minusSeconds(random.nextInt(900));
                if (to.isAfter(reached[d])) {
                    Instant from = random.nextInt(8) == 0 ? reached[d].plusSeconds(1) : reached[d];
                    tell(log(d, n, from, to));
                    reached[d] = to;
                }
            }
            case 4 ->
                tell(full(d, n, now.minusSeconds(60), random.nextBoolean() ? "slot/" + n % 3 : "", Optional.empty()));
            case 5 -> tell(full(d, 0, BEGIN, "", Optional.of(now.minusSeconds(10))));
            case 6 ->
                tell(policy(
                        random.nextBoolean() ? "p" : "q",
                        n,
                        now.plusSeconds(random.nextInt(7_200)),
                        20 + random.nextInt(200)));
            case 7 -> tell(database(d, random.nextBoolean() ? "p" : "q", ""));
            case 8 -> tell("""
                    {"type":"hold","id":"h%s","database":"d%s","moment":"%s","reason":"audit","until":"%s"}
                    """.formatted(n % 4, d, now.minusSeconds(3_600), now.plusSeconds(random.nextInt(20_000))));
            case 9 ->
                tell("""
                    {"type":"drill","id":"x%s","database":"d%s","started":"%s","ended":"%s","moment":"%s","ok":%s,"checks":["rows"]}
                    """.formatted(
                                n,
                                d,
                                now.minusSeconds(600),
                                now.minusSeconds(60),
                                now.minusSeconds(7_200),
                                random.nextBoolean()));
            case 10 -> tell(store("near", 1_000 + n));
            case 11 -> tell("""
                    {"type":"run","id":"r%s","database":"d%s","kind":"full","started":"%s","ended":"%s","outcome":"failed"}
                    """.formatted(n, d, now.minusSeconds(600), now.minusSeconds(60)));
            case 12 -> tell(database(d, "p", ",\"retired\":\"" + now.plusSeconds(random.nextInt(90_000)) + "\""));
            default -> now = now.plusSeconds(random.nextInt(4) == 0 ? random.nextInt(40_000) : random.nextInt(1_200));
        }
        return "step " + n + ", change " + what + " of d" + d;
    }

    /** How many databases are evaluated by what is done. */
    private long evaluatedBy(Doing doing) throws IOException {
        kept();
        long before = evaluations.evaluated();
        doing.now();
        kept();
        return evaluations.evaluated() - before;
    }

    private interface Doing {
        void now() throws IOException;
    }

    @Test
    void onlyWhatIsConcernedIsLookedAtAnew() throws IOException {
        assertEquals(0, evaluatedBy(() -> {}), "nothing");
        assertEquals(1, evaluatedBy(() -> tell(log(2, 1, BEGIN, now.minusSeconds(60)))), "a log");
        assertEquals(0, evaluatedBy(() -> tell(log(2, 1, BEGIN, now.minusSeconds(60)))), "the same log again");
        assertEquals(1, evaluatedBy(() -> tell(database(3, "q", ""))), "another policy for one");
        assertEquals(1, evaluatedBy(() -> tell(policy("q", 2, now, 30))), "a policy that one follows");
        assertEquals(0, evaluatedBy(() -> tell(policy("r", 1, now, 30))), "a policy nobody follows");
        assertEquals(1, evaluatedBy(() -> tell("""
                {"type":"hold","id":"h","database":"d4","moment":"%s","reason":"audit"}
                """.formatted(now.minusSeconds(3_600)))), "a hold on one");
        assertEquals(DATABASES, evaluatedBy(() -> tell(store("near", 9))), "a store");
        tell(full(0, 7, now.minusSeconds(60), "slot/1", Optional.empty()));
        assertEquals(
                2,
                evaluatedBy(() -> tell(full(1, 7, now.minusSeconds(30), "slot/1", Optional.empty()))),
                "a shared place");
    }

    private Map<String, String> grades() {
        Parts<String> all = summaries.all(lookout.view("", ""), graded);
        Map<String, String> out = new TreeMap<>();
        for (int i = 0; i < all.each().size(); i++) {
            out.put(all.databases().get(i).id(), all.each().get(i));
        }
        return out;
    }

    @Test
    void itIsToldOfThoseOfWhichWatchTellsOtherThanBefore() throws IOException {
        Set<String> turned = new TreeSet<>();
        summaries.whenTurned(turned::addAll);
        Map<String, String> before = grades();
        assertEquals(before.keySet(), turned, "those never looked at");
        Random random = new Random(7);
        Instant[] reached = new Instant[DATABASES];
        java.util.Arrays.fill(reached, BEGIN);
        int times = 0;
        for (int n = 1; n <= STEPS; n++) {
            turned.clear();
            String did = change(random, n, reached);
            Map<String, String> now = grades();
            Set<String> expected = new TreeSet<>(now.keySet());
            Map<String, String> were = before;
            expected.removeIf(id -> now.get(id).equals(were.get(id)));
            assertEquals(expected, turned, did);
            before = now;
            times += turned.isEmpty() ? 0 : 1;
        }
        assertTrue(times > 20 && times < STEPS / 2, times + " times");
    }

    @Test
    void aPageThatIsAskedForAgainEvaluatesNothing() {
        kept();
        long before = evaluations.evaluated();
        for (int i = 0; i < 5; i++) {
            now = now.plusMillis(700);
            assertEquals(DATABASES, kept().size());
        }
        assertEquals(before, evaluations.evaluated());
    }

    @Test
    void whatIsGoneIsForgotten() throws IOException {
        assertEquals(DATABASES, kept().size());
        tell(database(5, "p", ",\"standbyOf\":\"d0\""));
        assertEquals(DATABASES - 1, kept().size(), "it is part of its primary now");
        assertTrue(kept().get(0).contains("f5-0"), kept().get(0));
    }

    @Test
    void ofManyThatAreOutOfDateWhatHeldBeforeIsShownAndSaid() throws IOException {
        AtomicInteger asked = new AtomicInteger();
        summaries = new Summaries(facts, evaluations, List.of(said), DATABASES - 1, "this");
        summaries.whenBehind(asked::incrementAndGet);
        List<String> before = kept();
        assertEquals(fresh(), before, "those never looked at are waited for");
        assertEquals(0, behind());

        tell(store("near", 9));
        tell(database(1, "q", ""));
        assertEquals(DATABASES, behind());
        assertEquals(before, kept());
        assertEquals(1, asked.get());

        assertEquals(DATABASES, summaries.lookAnew(lookout.view("", "")));
        assertEquals(0, behind());
        assertEquals(fresh(), kept());
        assertEquals(0, summaries.lookAnew(lookout.view("", "")));

        tell(database(2, "q", ""));
        assertEquals(0, behind(), "few are waited for");
        assertEquals(fresh(), kept());
        assertEquals(1, asked.get());
    }

    @Test
    void whatTimeMadeOldWhileNobodyRanItIsShownAndSaidAndWorkedOutBehindWhoeverAsks() {
        summaries = new Summaries(facts, evaluations, List.of(said), DATABASES - 1, "this");
        List<String> before = kept();
        summaries.write();
        now = now.plus(Duration.ofDays(1));

        AtomicInteger asked = new AtomicInteger();
        summaries = new Summaries(facts, evaluations, List.of(said), DATABASES - 1, "this");
        summaries.whenBehind(asked::incrementAndGet);
        long evaluated = evaluations.evaluated();
        assertEquals(before, kept());
        assertEquals(evaluated, evaluations.evaluated());
        assertEquals(1, asked.get());
        assertEquals(DATABASES, behind());
        assertEquals(DATABASES, summaries.lookAnew(lookout.view("", "")));
        assertEquals(fresh(), kept());

        summaries.write();
        summaries = new Summaries(facts, evaluations, List.of(said), DATABASES - 1, "another");
        assertEquals(fresh(), kept(), "what another program wrote is not read");
    }

    private int behind() {
        return summaries.behind(lookout.view("", ""));
    }
}
