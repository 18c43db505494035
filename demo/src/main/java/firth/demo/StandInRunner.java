package firth.demo;

import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * Stands in for the runners of the demo fleet: looks at every host's databases and stores and tells Firth, over and over for as
 * long as the process it was started with lives. {@code StandInRunner URL TREE PID}
 */
public final class StandInRunner {

    private static final Duration BETWEEN = Duration.ofMinutes(10);
    private static final Duration PATIENCE = Duration.ofSeconds(1);

    private final HttpClient client = HttpClient.newHttpClient();
    private final URI firth;
    private final Prober prober;

    StandInRunner(URI firth, Path tree) {
        this.firth = firth;
        this.prober = new Prober(tree);
    }

    public static void main(String[] args) throws IOException, InterruptedException {
        if (args.length != 3) {
            System.err.println("usage: StandInRunner URL TREE PID");
            System.exit(2);
        }
        Path tree = Path.of(args[1]);
        Harbour.build(tree, Instant.now());
        Optional<ProcessHandle> server = ProcessHandle.of(Long.parseLong(args[2]));
        StandInRunner runner = new StandInRunner(URI.create(args[0]), tree);
        Instant next = Instant.EPOCH;
        while (server.filter(ProcessHandle::isAlive).isPresent()) {
            if (!Instant.now().isBefore(next) && runner.report(Instant.now())) {
                next = Instant.now().plus(BETWEEN);
            }
            Thread.sleep(PATIENCE.toMillis());
        }
    }

    /** Tells what is found on every host; false where Firth does not answer yet. */
    boolean report(Instant at) throws IOException, InterruptedException {
        for (String host : prober.hosts()) {
            String source = URLEncoder.encode("runner on " + host, StandardCharsets.UTF_8);
            HttpRequest request = HttpRequest.newBuilder(firth.resolve("/api/import?source=" + source))
                    .header("content-type", "application/x-ndjson")
                    .POST(HttpRequest.BodyPublishers.ofString(String.join("\n", prober.probe(host, at))))
                    .build();
            try {
                HttpResponse<String> answer = client.send(request, HttpResponse.BodyHandlers.ofString());
                if (answer.statusCode() != 200) {
                    System.err.println("stand-in runner: Firth refused what " + host + " says: " + answer.body());
                }
            } catch (java.net.ConnectException notYet) {
                return false;
            }
        }
        return true;
    }
}
