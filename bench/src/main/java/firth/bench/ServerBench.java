package firth.bench;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;

/**
 * What a fleet costs the server, from outside: taking it in, answering for every page, following one log, starting over its file. Each
 * figure of an answer is the median of ten, asked one after the other after twenty that do not count, once nothing is worked out behind
 * them any more; of three where one takes over two seconds.
 */
public final class ServerBench {

    private static final int ASKED = 10;
    private static final int WARM = 20;

    /** What takes longer, in seconds, is asked less often. */
    private static final double SLOW = 2;

    private static final int FEWER = 3;
    private static final int DAYS = 35;

    /** Megabytes of memory the server may take for what it keeps: for so many databases, and for each more. */
    private static final int HEAP = 1_000;

    private static final int HEAP_FOR = 5_000;
    private static final Duration PATIENCE = Duration.ofMinutes(30);

    /** Asked with a body: which store. */
    private static final String CHOICE = "/api/purge/choice";

    /** Of fewer databases it is not looked at what they take as they live: it would be the compiler's. */
    private static final int LIVED = 1_000;

    private static final Duration STEADY = Duration.ofSeconds(90);

    /** So many times that long does not count. */
    private static final int WARMING = 4;

    /** An open page that was told of something asks again no sooner, and no sooner than so many times what the last answer took. */
    private static final Duration PAGE_RESTS = Duration.ofSeconds(1);

    private static final int PAGE_RESTS_TIMES = 9;

    /** At rest is a server that took a tenth of a core at most for so long. */
    private static final Duration QUIET = Duration.ofSeconds(3);

    private static final Duration RUNNERS_ASK = Duration.ofMinutes(1);

    /** What pages ask for. */
    private static final List<String> PAGES = List.of(
            "/api/watch",
            "/api/cover",
            "/api/cover/strip",
            "/api/cover/rows?database=db-0001&database=db-0002&database=db-0003",
            "/api/gaps",
            "/api/gaps/outages",
            "/api/needs",
            "/api/week",
            "/api/stores",
            "/api/stores/near-0",
            "/api/fleet",
            "/api/choices",
            "/api/policies",
            "/api/policies/p0",
            "/api/drills",
            CHOICE,
            "/api/purge/coming",
            "/api/history",
            "/api/history/facets",
            "/api/record",
            "/api/rehearsals/losable",
            "/api/runners",
            "/api/sources",
            "/api/databases/db-0007",
            "/api/restore/of/db-0007",
            "/metrics",
            "/api/out/slots.ics");

    private final HttpClient client = HttpClient.newHttpClient();
    private final Path jar;
    private final int databases;
    private final int days;
    private Process process;
    private int port;

    private ServerBench(Path jar, int databases, int days) {
        this.jar = jar;
        this.databases = databases;
        this.days = days;
    }

    /** @param args the server's jar, then how many databases, each a run of its own; with a history of other than 35 days, as in 20000/1 */
    public static void main(String[] args) throws Exception {
        for (int a = 1; a < args.length; a++) {
            String[] fleet = args[a].split("/");
            int days = fleet.length > 1 ? Integer.parseInt(fleet[1]) : DAYS;
            new ServerBench(Path.of(args[0]), Integer.parseInt(fleet[0]), days).run();
        }
    }

    private void run() throws Exception {
        Path directory = Files.createTempDirectory(Path.of(".firth").toAbsolutePath(), "served");
        try {
            measure(directory);
        } finally {
            stop();
            try (Stream<Path> all = Files.walk(directory)) {
                for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
                    Files.delete(p);
                }
            }
        }
    }

    private void measure(Path directory) throws Exception {
        Instant end = Instant.now().truncatedTo(ChronoUnit.SECONDS);
        ServedFleet fleet = new ServedFleet(databases, days, end);
        Path file = directory.resolve("fleet.ndjson");
        long lines = fleet.write(file);
        say("%,d databases of %d days, %,d lines, %.0f MB", databases, days, lines, Files.size(file) / 1e6);
        start(directory);
        long begun = System.nanoTime();
        String taken = send(HttpRequest.BodyPublishers.ofFile(file));
        double took = seconds(begun);
        if (!taken.contains("\"rejectedLines\":0")) {
            throw new IllegalStateException(taken.substring(0, Math.min(2_000, taken.length())));
        }
        say("taken in after %.1f s: %,.0f lines a second", took, lines / took);
        Files.delete(file);
        say(
                "backups with their copies alone, put into an empty file in one transaction: %,.0f a second",
                BareInsert.aSecond(directory.resolve("firth.db"), directory.resolve("bare.db")));
        // Pages stand at the clock once a program has asked for work.
        post("/api/runners/host-0/work");
        begun = System.nanoTime();
        get("/api/watch");
        say("first Watch after %.1f s", seconds(begun));
        settle();
        for (String page : PAGES) {
            page(page);
        }
        for (String page : List.of("/api/watch", "/api/cover", "/api/stores")) {
            afterALog(fleet, page, end);
        }
        changedPolicy(fleet);
        if (databases >= LIVED) {
            HttpServer told = aList();
            steady(fleet, end);
            told.stop(0);
            say("%d messages of the sending list", messages.get());
        }
        aStoreChanged();
        say("resident %.2f GB, the file %.2f GB", resident() / 1e9, Files.size(directory.resolve("firth.db")) / 1e9);
        stop();
        begun = System.nanoTime();
        start(directory);
        double listening = seconds(begun);
        get("/api/watch");
        say("started over its file: answers after %.1f s, Watch after %.1f s", listening, seconds(begun));
    }

    private void page(String path) throws Exception {
        int size = 0;
        double slowest = 0;
        for (int i = 0; i < WARM && slowest < SLOW; i++) {
            long begun = System.nanoTime();
            size = get(path).length();
            slowest = i == 0 ? 0 : seconds(begun);
        }
        double[] took = new double[slowest > SLOW ? FEWER : ASKED];
        for (int i = 0; i < took.length; i++) {
            long begun = System.nanoTime();
            size = get(path).length();
            took[i] = 1_000 * seconds(begun);
        }
        double median = median(took);
        say("%-26s %9.1f ms (%.1f to %.1f), %,9.1f kB", path, median, took[0], took[took.length - 1], size / 1e3);
    }

    /** Of some values, which ascend afterwards. */
    private static double median(double[] values) {
        Arrays.sort(values);
        return (values[(values.length - 1) / 2] + values[values.length / 2]) / 2;
    }

    /** Something every database rests on: what pages say until all are worked out anew, and after how long they are. */
    private void aStoreChanged() throws Exception {
        long begun = System.nanoTime();
        send(HttpRequest.BodyPublishers.ofString("""
                {"type":"store","id":"near-0","name":"Quay near 0","site":"north","medium":"disk","role":"near","readBytesPerSecond":3e8,"capacityBytes":9e14}
                """));
        get("/api/watch");
        double watch = seconds(begun);
        while (!get("/api/sources").contains("\"behind\":0")) {
            Thread.sleep(20);
        }
        say("a store changed: Watch after %.2f s, all databases worked out anew after %.1f s", watch, seconds(begun));
    }

    /** Rules as somebody edits them, each time others: replayed over the history there is, and run forward. */
    private void changedPolicy(ServedFleet fleet) throws Exception {
        for (String enough : List.of("?enough=40", "")) {
            double[] replayed = new double[ASKED];
            double[] ahead = new double[ASKED];
            for (int i = -ASKED; i < ASKED; i++) {
                String document = fleet.policy(0, 2, 90 - i, 17 - i % FEWER);
                double one = tried("/api/policies/p0/replay" + enough, document);
                double other = tried("/api/policies/p0/ahead" + enough, document);
                replayed[Math.max(0, i)] = one;
                ahead[Math.max(0, i)] = other;
            }
            say(
                    "a policy changed, %s: replayed after %.2f s, the 60 days to come after %.2f s",
                    enough.isEmpty() ? "all of its followers" : "a first look", median(replayed), median(ahead));
        }
    }

    private double tried(String path, String document) throws Exception {
        long begun = System.nanoTime();
        answer(HttpRequest.newBuilder(address(path))
                .header("content-type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofString(document))
                .build());
        return seconds(begun);
    }

    private final AtomicInteger messages = new AtomicInteger();

    /** Somebody who is told of every finding. */
    private HttpServer aList() throws Exception {
        HttpServer told = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        told.createContext("/", exchange -> {
            messages.incrementAndGet();
            exchange.sendResponseHeaders(204, -1);
            exchange.close();
        });
        told.start();
        answer(HttpRequest.newBuilder(address("/api/sending/lists/bench"))
                .header("content-type", "application/json")
                .PUT(HttpRequest.BodyPublishers.ofString(
                        """
                        {"id":"bench","name":"bench","enabled":true,"mails":[],"webhook":"http://127.0.0.1:%d/","secret":"","by":"fleet","of":"",\
                        "rank":"behind","ends":false,"runsFailed":true,"runsOk":false,"quietFrom":"","quietTo":"","zone":"UTC","watchAt":"","report":""}""".formatted(told.getAddress().getPort())))
                .build());
        return told;
    }

    private int sent;

    private void afterALog(ServedFleet fleet, String page, Instant end) throws Exception {
        List<Double> took = new ArrayList<>();
        for (int i = 0; i < ASKED; i++) {
            Instant to = Instant.now();
            long begun = System.nanoTime();
            send(HttpRequest.BodyPublishers.ofString(fleet.next(sent % databases, sent, end, to)));
            get(page);
            took.add(1_000 * seconds(begun));
            sent++;
        }
        took.sort(Comparator.naturalOrder());
        say(
                "a log landed and %s told of it after %.0f ms (%.0f to %.0f)",
                page, (took.get(ASKED / 2 - 1) + took.get(ASKED / 2)) / 2, took.get(0), took.get(ASKED - 1));
    }

    /** Waits until nothing is worked out behind the pages any more: the weeks to come of every database take longest. */
    private void settle() throws Exception {
        Instant began = Instant.now();
        Duration before = process.info().totalCpuDuration().orElseThrow();
        while (true) {
            Thread.sleep(QUIET.toMillis());
            Duration now = process.info().totalCpuDuration().orElseThrow();
            if (now.minus(before).compareTo(QUIET.dividedBy(10)) < 0
                    || began.plus(PATIENCE).isBefore(Instant.now())) {
                break;
            }
            before = now;
        }
        say("at rest after %d s", Duration.between(began, Instant.now()).toSeconds());
    }

    /**
     * As in life: each log when it lands, a few rows of Cover asked for after each and Watch when what it says has changed, as open pages
     * do, one runner after the other. Only the last fifth is told of, for Java makes the program faster as it goes: in the first minutes
     * half of what it takes is the compiler's.
     */
    private void steady(ServedFleet fleet, Instant end) throws Exception {
        AtomicBoolean moved = new AtomicBoolean();
        CompletableFuture<Void> listening = client.sendAsync(
                        HttpRequest.newBuilder(address("/api/changes")).build(), HttpResponse.BodyHandlers.ofLines())
                .thenAccept(
                        lines -> lines.body().filter(l -> l.contains("found")).forEach(l -> moved.set(true)));
        for (int before = 0; before < WARMING; before++) {
            asInLife(fleet, end, moved);
        }
        say("%s", asInLife(fleet, end, moved));
        listening.cancel(true);
    }

    /** For a while; what it took. */
    private String asInLife(ServedFleet fleet, Instant end, AtomicBoolean moved) throws Exception {
        int watched = 0;
        double aSecond = 0;
        for (int d = 0; d < databases; d++) {
            aSecond += 1.0 / ServedFleet.interval(d).toSeconds();
        }
        Duration before = process.info().totalCpuDuration().orElseThrow();
        Instant began = Instant.now();
        Instant page = began;
        int logs = 0;
        int hosts = 1 + (databases - 1) / 20;
        int polls = 0;
        for (double at = 0; at < STEADY.toSeconds(); at += 1 / aSecond) {
            long wait =
                    (long) (1_000 * at) - Duration.between(began, Instant.now()).toMillis();
            Thread.sleep(Math.max(0, wait));
            int d = sent % databases;
            send(HttpRequest.BodyPublishers.ofString(fleet.next(d, sent, end, Instant.now())));
            get("/api/cover/rows?database=" + ServedFleet.id(d));
            sent++;
            logs++;
            while (polls < at * hosts / RUNNERS_ASK.toSeconds()) {
                post("/api/runners/host-" + polls++ % hosts + "/work");
            }
            if (moved.get() && Instant.now().isAfter(page)) {
                moved.set(false);
                Instant asked = Instant.now();
                get("/api/watch");
                watched++;
                Duration rest = Duration.between(asked, Instant.now()).multipliedBy(PAGE_RESTS_TIMES);
                page = Instant.now().plus(rest.compareTo(PAGE_RESTS) < 0 ? PAGE_RESTS : rest);
            }
        }
        Duration took = Duration.between(began, Instant.now());
        Duration cpu = process.info().totalCpuDuration().orElseThrow().minus(before);
        return String.format(
                Locale.ROOT,
                "%d logs in %d s, each as it lands, %d polls of runners, two pages open, Watch asked for %d times: %.1f %% of one core",
                logs,
                took.toSeconds(),
                polls,
                watched,
                100.0 * cpu.toMillis() / took.toMillis());
    }

    private void start(Path directory) throws Exception {
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        process = new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-XX:+UseParallelGC",
                        "-XX:SharedArchiveFile=" + jar.toString().replaceFirst("\\.jar$", ".jsa"),
                        "-Xmx" + HEAP * Math.max(1, databases / HEAP_FOR) + "m",
                        "-Dquarkus.http.port=" + port,
                        "-Dfirth.data=" + directory.resolve("firth.db"),
                        "-Dfirth.demo=true",
                        "-jar",
                        jar.toString())
                .redirectErrorStream(true)
                .redirectOutput(directory.resolve("log.txt").toFile())
                .start();
        Instant deadline = Instant.now().plus(PATIENCE);
        while (true) {
            try {
                get("/api/sources");
                return;
            } catch (IOException notYet) {
                if (!process.isAlive() || Instant.now().isAfter(deadline)) {
                    throw new IllegalStateException(Files.readString(directory.resolve("log.txt")), notYet);
                }
                Thread.sleep(20);
            }
        }
    }

    private void stop() {
        if (process != null) {
            process.destroy();
            process.onExit().join();
        }
    }

    private String send(HttpRequest.BodyPublisher body) throws IOException, InterruptedException {
        return answer(HttpRequest.newBuilder(address("/api/import?source=bench"))
                .header("content-type", "application/x-ndjson")
                .POST(body)
                .build());
    }

    private String get(String path) throws IOException, InterruptedException {
        if (path.equals(CHOICE)) {
            return answer(HttpRequest.newBuilder(address(path))
                    .header("content-type", "application/json")
                    .POST(HttpRequest.BodyPublishers.ofString("{\"store\":\"near-0\",\"leftOut\":[]}"))
                    .build());
        }
        return answer(HttpRequest.newBuilder(address(path)).build());
    }

    private void post(String path) throws IOException, InterruptedException {
        answer(HttpRequest.newBuilder(address(path))
                .POST(HttpRequest.BodyPublishers.noBody())
                .build());
    }

    private URI address(String path) {
        return URI.create("http://127.0.0.1:" + port + path);
    }

    private String answer(HttpRequest request) throws IOException, InterruptedException {
        HttpResponse<String> answer = client.send(request, HttpResponse.BodyHandlers.ofString());
        if (answer.statusCode() != 200) {
            throw new IllegalStateException(request.uri() + ": " + answer.statusCode() + " " + answer.body());
        }
        return answer.body();
    }

    /** Bytes of memory the server holds. */
    private long resident() throws IOException {
        return Files.readAllLines(Path.of("/proc/" + process.pid() + "/status")).stream()
                .filter(l -> l.startsWith("VmRSS:"))
                .mapToLong(l -> 1_024 * Long.parseLong(l.replaceAll("\\D", "")))
                .findFirst()
                .orElse(0);
    }

    private static double seconds(long begun) {
        return (System.nanoTime() - begun) / 1e9;
    }

    private static void say(String format, Object... figures) {
        System.out.printf(Locale.ROOT, format + "%n", figures);
    }
}
