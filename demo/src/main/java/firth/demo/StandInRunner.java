package firth.demo;

import firth.agent.Agent;
import firth.agent.Storage;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.Function;

/**
 * Stands in for the runners of the demo fleet for as long as the process it was started with lives: looks at every host's
 * databases and stores, starts what is due, and tells Firth. {@code StandInRunner URL TREE PID [SPEED]};
 * a speed of 0 only looks. With {@code -Dfirth.agents=off} no files are laid into the stores and no agent asks for work
 */
public final class StandInRunner {

    private static final Duration BETWEEN_LOOKS = Duration.ofMinutes(10);
    private static final Duration PATIENCE = Duration.ofSeconds(1);
    private static final Duration ASKS = Duration.ofSeconds(2);

    /** The host whose runner looks whether Firth answers. */
    private static final String FIRST = "northquay-1";

    /** Firth as the runner on each host sees it, with a token of its own. */
    private final Function<String, Firth> firth;

    private final Prober prober;
    private final List<HostRunner> hosts = new ArrayList<>();

    /** @param speed how many times faster than usual runs go */
    StandInRunner(Function<String, Firth> firth, Path tree, double speed) throws IOException {
        this.firth = firth;
        this.prober = new Prober(tree);
        for (String host : prober.hosts()) {
            hosts.add(new HostRunner(firth.apply(host), tree, host, speed));
        }
    }

    public static void main(String[] args) throws IOException, InterruptedException {
        run((home, files) -> files, args);
    }

    /** @param moods what a store, by its directory, is to behave like */
    public static void run(BiFunction<Path, Storage, Storage> moods, String... args)
            throws IOException, InterruptedException {
        if (args.length < 3 || args.length > 4) {
            System.err.println("usage: StandInRunner URL TREE PID [SPEED]");
            System.exit(2);
        }
        Path tree = Path.of(args[1]);
        Harbour.build(tree, Instant.now());
        Optional<ProcessHandle> server = ProcessHandle.of(Long.parseLong(args[2]));
        double speed = args.length > 3 ? Double.parseDouble(args[3]) : 1;
        URI address = URI.create(args[0]);
        Map<String, Firth> known = new HashMap<>();
        Function<String, Firth> firth =
                host -> known.computeIfAbsent(host, h -> new Firth(address, Token.ofRunner(address, tree, h)));
        StandInRunner runner = new StandInRunner(firth, tree, speed);
        if (!"off".equals(System.getProperty("firth.agents"))) {
            agents(firth.apply(FIRST), address, tree, moods);
        }
        Optional<StandInMail> mail =
                Optional.ofNullable(Integer.getInteger("firth.mail.port")).map(port -> new StandInMail(port, tree));
        Instant look = Instant.EPOCH;
        while (server.filter(ProcessHandle::isAlive).isPresent()) {
            if (!Instant.now().isBefore(look) && runner.report(Instant.now())) {
                look = Instant.now().plus(BETWEEN_LOOKS);
            }
            if (mail.isPresent()) {
                mail.get().keep();
            }
            if (!look.equals(Instant.EPOCH) && speed > 0) {
                runner.run(Instant.now());
            }
            Thread.sleep(PATIENCE.toMillis());
        }
    }

    /** The agents of the stores live beside the runners, each by itself. */
    private static void agents(Firth firth, URI address, Path tree, BiFunction<Path, Storage, Storage> moods) {
        Thread laying = new Thread(() -> {
            try {
                while (firth.work(FIRST, "PT1M").isEmpty()) {
                    Thread.sleep(PATIENCE.toMillis());
                }
                Laying.lay(firth, tree);
                for (String store : Laying.STORES) {
                    Path home = tree.resolve("stores").resolve(store);
                    Agent agent = StoreAgent.of(address, home, moods.apply(home, StoreAgent.files(home)), ASKS);
                    Thread working = new Thread(() -> work(agent), "agent at " + store);
                    working.setDaemon(true);
                    working.start();
                }
            } catch (IOException e) {
                System.err.println("stand-in agents: the files of the stores could not be laid: " + e.getMessage());
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        });
        laying.setDaemon(true);
        laying.start();
    }

    private static void work(Agent agent) {
        try {
            agent.run();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** Tells what is found on every host; false where Firth does not answer yet. */
    boolean report(Instant at) throws IOException, InterruptedException {
        for (String host : prober.hosts()) {
            if (!firth.apply(host).tell("runner on " + host, prober.probe(host, at))) {
                return false;
            }
        }
        return true;
    }

    /** Runs on every host what is due there. */
    void run(Instant at) throws IOException, InterruptedException {
        for (HostRunner host : hosts) {
            host.tick(at);
        }
    }
}
