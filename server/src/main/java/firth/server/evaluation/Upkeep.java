package firth.server.evaluation;

import firth.server.platform.FactsHolder;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import io.quarkus.scheduler.Scheduled;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import org.jboss.logging.Logger;

/** Keeps summaries up to date behind those who ask, so that they need not wait, and writes them into the file now and then. */
@ApplicationScoped
class Upkeep {

    private static final Logger LOG = Logger.getLogger(Upkeep.class);

    /** What comes in within so long is looked at together. */
    private static final int TOGETHER_MS = 250;

    /** What is said of any database may have changed. */
    private static final Set<String> EVERYTHING = Set.of("");

    private final Summaries summaries;
    private final Lookout lookout;
    private final Changes changes;
    private final AtomicBoolean waiting = new AtomicBoolean();
    private final ExecutorService behind = Executors.newSingleThreadExecutor(r -> {
        Thread thread = new Thread(r, "summaries");
        thread.setDaemon(true);
        return thread;
    });

    Upkeep(Summaries summaries, Lookout lookout, FactsHolder facts, Changes changes) {
        this.summaries = summaries;
        this.lookout = lookout;
        this.changes = changes;
        summaries.whenBehind(this::soon);
        summaries.whenTurned(changes::found);
        facts.store().onChange(touched -> soon());
    }

    /** Works out the fleet's answers while the browser is still being opened. */
    void start(@Observes StartupEvent event) {
        soon();
    }

    /** Looks anew at what has changed. */
    void soon() {
        if (waiting.compareAndSet(false, true)) {
            CompletableFuture.delayedExecutor(TOGETHER_MS, TimeUnit.MILLISECONDS, behind)
                    .execute(this::look);
        }
    }

    private void look() {
        waiting.set(false);
        try {
            if (summaries.lookAnew(lookout.view("", "")) > 0) {
                changes.moved(EVERYTHING);
            }
        } catch (RuntimeException e) {
            LOG.warn("The fleet could not be looked at ahead of those who ask", e);
        }
    }

    @Scheduled(every = "60s", delayed = "30s", concurrentExecution = Scheduled.ConcurrentExecution.SKIP)
    void keep() {
        summaries.write();
    }

    void stop(@Observes ShutdownEvent event) throws InterruptedException {
        behind.shutdown();
        if (!behind.awaitTermination(20, TimeUnit.SECONDS)) {
            LOG.warn("What the fleet says was not worked out to the end");
        }
        summaries.write();
    }
}
