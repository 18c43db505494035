package firth.demo.live;

import firth.exchange.link.FirthLink;
import firth.servers.Workplace;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Deque;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentLinkedDeque;

/**
 * A small real fleet for as long as the process it was started with lives: {@code Live URL CLI-JAR DIRECTORY PID}. Faults are asked
 * for, and answered, in the directory. What it made lies in a temporary place and goes with it.
 */
public final class Live {

    private static final Duration LOOKS = Duration.ofMillis(300);
    private static final Duration COMMITS = Duration.ofSeconds(3);
    private static final Duration DRILLS = Duration.ofMinutes(1);

    private final Workplace work = new Workplace();
    private final Pier pier;
    private final Hands hands;
    private final Faults faults;
    private final Set<String> told = new HashSet<>();

    /** @param ends takes what is to be done at the end, the last first */
    private Live(URI firth, Path jar, Path directory, Deque<Runnable> ends)
            throws IOException, InterruptedException, FirthLink.Refused {
        ends.push(work::close);
        this.hands = new Hands(work, firth, jar);
        ends.push(hands::end);
        Path archive = work.directory("near/" + Pier.HARBOUR + "/log");
        work.handOver(hands.store("near"));
        this.pier = new Pier(work, archive);
        ends.push(pier::end);
        // So that every backup there will be holds a row.
        pier.commit();
        Mischief mischief = new Mischief(pier, hands);
        this.faults = new Faults(directory, mischief.faults());
        Enrolment.tell(firth);
        hands.instruct(pier);
        hands.startRunner();
        hands.startAgents();
        while (!Files.isExecutable(hands.script())) {
            Thread.sleep(LOOKS.toMillis());
        }
        mischief.archive();
    }

    public static void main(String[] args) throws Exception {
        if (args.length != 4) {
            System.err.println("usage: Live URL CLI-JAR DIRECTORY PID");
            System.exit(2);
        }
        Optional<ProcessHandle> server = ProcessHandle.of(Long.parseLong(args[3]));
        Deque<Runnable> ends = new ConcurrentLinkedDeque<>();
        Runtime.getRuntime().addShutdownHook(new Thread(() -> end(ends)));
        Live live = new Live(URI.create(args[0]), Path.of(args[1]), Path.of(args[2]), ends);
        System.err.println("firth: the live fleet runs; faults to try are at " + args[0] + "/live");
        live.run(server);
        System.exit(0);
    }

    /** One that does not go well keeps none of the others from it. */
    private static void end(Deque<Runnable> ends) {
        for (Runnable each : ends) {
            try {
                each.run();
            } catch (RuntimeException e) {
                System.err.println("firth live: " + e.getMessage());
            }
        }
    }

    private void run(Optional<ProcessHandle> server) throws IOException, InterruptedException {
        Instant commit = Instant.EPOCH;
        Instant drill = Instant.now().plus(DRILLS);
        while (server.filter(ProcessHandle::isAlive).isPresent()) {
            Instant now = Instant.now();
            boolean rows = !now.isBefore(commit);
            if (rows) {
                pier.commit();
                commit = now.plus(COMMITS);
            }
            if (faults.obey() || rows) {
                faults.tell(pier.truth());
            }
            if (!now.isBefore(drill)) {
                hands.drill();
                drill = now.plus(DRILLS);
            }
            for (String ended : hands.ended()) {
                if (told.add(ended)) {
                    System.err.println("firth live: " + ended);
                }
            }
            Thread.sleep(LOOKS.toMillis());
        }
    }
}
