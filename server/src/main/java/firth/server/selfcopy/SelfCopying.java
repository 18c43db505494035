package firth.server.selfcopy;

import firth.core.findings.Detail;
import firth.core.findings.Finding;
import firth.core.findings.Finding.Severity;
import firth.server.evaluation.HouseFindings;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.store.OwnCopies;
import firth.store.StoreFailure;
import io.quarkus.scheduler.Scheduled;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;

/** Keeps copies of Firth's own facts, and says how old the newest is. */
@ApplicationScoped
public class SelfCopying implements HouseFindings {

    private static final Logger LOG = Logger.getLogger(SelfCopying.class);

    /** It may be this many times older than promised before anybody is told. */
    private static final int PATIENCE = 2;

    private final FactsHolder facts;
    private final Lookout lookout;
    private final Path directory;
    private final Duration every;
    private final int keep;
    private volatile String trouble = "";

    SelfCopying(
            FactsHolder facts,
            Lookout lookout,
            @ConfigProperty(name = "firth.data") String data,
            @ConfigProperty(name = "firth.copies.directory") Optional<String> directory,
            @ConfigProperty(name = "firth.copies.every") Duration every,
            @ConfigProperty(name = "firth.copies.keep") int keep) {
        this.facts = facts;
        this.lookout = lookout;
        this.directory = directory
                .filter(d -> !d.isBlank())
                .map(Path::of)
                .orElse(Path.of(data).toAbsolutePath().resolveSibling("copies"));
        this.every = every;
        this.keep = keep;
    }

    private OwnCopies copies() {
        return facts.store().ownCopies(directory);
    }

    private Optional<OwnCopies.OwnCopy> newest() {
        return copies().all().stream().findFirst();
    }

    /** Writes one where the newest is old enough; looked at each minute, so that a restart neither skips nor doubles one. */
    @Scheduled(every = "60s", delayed = "5s", concurrentExecution = Scheduled.ConcurrentExecution.SKIP)
    void keepUp() {
        Instant now = lookout.now();
        if (newest().filter(c -> c.made().plus(every).isAfter(now)).isEmpty()) {
            write();
        }
    }

    /** Writes one now. */
    public SelfCopyView write() {
        try {
            copies().write(lookout.now(), keep);
            trouble = "";
        } catch (StoreFailure | UncheckedIOException e) {
            trouble = String.valueOf(e.getMessage());
            LOG.error(trouble, e);
        }
        return view();
    }

    public SelfCopyView view() {
        List<OwnCopies.OwnCopy> all = copies().all();
        Optional<Instant> newest = all.stream().findFirst().map(OwnCopies.OwnCopy::made);
        return new SelfCopyView(
                newest.orElse(null),
                newest.map(n -> Duration.between(n, lookout.now()).toMillis() / 1000.0)
                        .orElse(null),
                every.toMillis() / 1000.0,
                directory.toString(),
                all.size(),
                all.stream().findFirst().map(OwnCopies.OwnCopy::bytes).orElse(0L),
                trouble);
    }

    @Override
    public List<Finding> findings(Instant now) {
        Optional<Instant> newest = newest().map(OwnCopies.OwnCopy::made);
        boolean old = newest.filter(n -> n.plus(every.multipliedBy(PATIENCE)).isBefore(now))
                .isPresent();
        if (!old && trouble.isEmpty()) {
            return List.of();
        }
        return List.of(new Finding(
                "own-copy",
                Severity.RULE_BROKEN,
                "firth",
                List.of(),
                newest,
                new Detail.OwnFactsNotCopied(
                        newest.map(n -> Duration.between(n, now)), every, trouble, directory.toString()),
                List.of(),
                List.of()));
    }
}
