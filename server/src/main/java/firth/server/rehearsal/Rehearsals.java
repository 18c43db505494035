package firth.server.rehearsal;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import firth.core.record.Deed;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Who;
import firth.store.Papers;
import jakarta.annotation.PreDestroy;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import org.jboss.logging.Logger;

/** Loss rehearsals: run one after the other, watched while they run, kept when they are done. */
@ApplicationScoped
public class Rehearsals {

    private static final Logger LOG = Logger.getLogger(Rehearsals.class);
    private static final String SORT = "rehearsal";
    private static final int MOST = 64;

    private final Rehearsing rehearsing;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;
    private final ObjectMapper json;
    private final Map<String, Running> running = new ConcurrentHashMap<>();
    private final ExecutorService one = Executors.newSingleThreadExecutor();

    Rehearsals(Rehearsing rehearsing, FactsHolder facts, Lookout lookout, Who who, ObjectMapper json) {
        this.rehearsing = rehearsing;
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
        this.json = json;
    }

    private static final class Running {
        private final RehearsalView begun;
        private final Instant moment;
        private final AtomicInteger judged = new AtomicInteger();
        private volatile String trouble = "";
        private volatile boolean stopped;

        Running(RehearsalView begun, Instant moment) {
            this.begun = begun;
            this.moment = moment;
        }

        RehearsalView view() {
            return new RehearsalView(
                    begun.id(), begun.losing(), begun.by(), begun.at(), begun.asked(), judged.get(), null, trouble);
        }
    }

    @PreDestroy
    void stop() {
        one.shutdownNow();
    }

    RehearsalView begin(RehearsalView.Losing asked) {
        if (asked.sideBySide() < 1 || asked.sideBySide() > MOST) {
            throw new BadRequest("sideBySide", "is not 1 to " + MOST);
        }
        if (asked.sites().isEmpty() && asked.stores().isEmpty() && asked.hosts().isEmpty() && !asked.unlocked()) {
            throw new BadRequest("sites", "stores, hosts or what is not locked: choose what is lost");
        }
        rehearsing.check(asked);
        Instant moment = asked.moment() == null ? lookout.standsAt() : asked.moment();
        RehearsalView.Losing losing = new RehearsalView.Losing(
                rehearsing.title(asked),
                asked.sites(),
                asked.stores(),
                asked.hosts(),
                asked.unlocked(),
                moment,
                asked.sideBySide());
        RehearsalView begun = new RehearsalView(
                "loss-" + UUID.randomUUID().toString().substring(0, 8),
                losing,
                who.name(),
                lookout.now(),
                rehearsing.count(),
                0,
                null,
                "");
        Running run = new Running(begun, moment);
        String person = who.id();
        running.put(begun.id(), run);
        one.execute(() -> work(run, person));
        return begun;
    }

    private void work(Running run, String person) {
        RehearsalView begun = run.begun;
        try {
            RehearsalView.Rehearsed result = rehearsing.of(begun.losing(), run.moment, () -> {
                run.judged.incrementAndGet();
                return !run.stopped;
            });
            RehearsalView done = new RehearsalView(
                    begun.id(), begun.losing(), begun.by(), begun.at(), begun.asked(), begun.asked(), result, "");
            facts.store()
                    .papers()
                    .keep(
                            new Papers.Paper(begun.id(), SORT, "", person, begun.at(), json.writeValueAsString(done)),
                            new Deed.Told(
                                    person,
                                    "loss-rehearsed",
                                    begun.id(),
                                    json.writeValueAsString(
                                            Map.of("lost", begun.losing().title()))));
            running.remove(begun.id());
        } catch (Rehearsing.Stopped e) {
            run.trouble = "It was stopped.";
        } catch (RuntimeException | JsonProcessingException e) {
            LOG.error("A loss rehearsal broke off", e);
            run.trouble = "It broke off: see Firth's own log.";
        }
    }

    RehearsalView one(String id) {
        Running run = running.get(id);
        return run != null
                ? run.view()
                : facts.store()
                        .papers()
                        .one(SORT, id)
                        .map(p -> read(p.document()))
                        .orElseThrow(() -> new NotFound("There is no rehearsal " + id + "."));
    }

    void stop(String id) {
        Running run = running.get(id);
        if (run != null) {
            run.stopped = true;
        }
    }

    List<RehearsalView.RehearsalRow> all() {
        return facts.store().papers().all(SORT).stream()
                .map(p -> read(p.document()))
                .flatMap(r -> Optional.ofNullable(r.result()).stream()
                        .map(all -> new RehearsalView.RehearsalRow(
                                r.id(), r.losing().title(), r.by(), r.at(), all.unreachable(), all.seconds())))
                .toList();
    }

    private RehearsalView read(String text) {
        try {
            return json.readValue(text, RehearsalView.class);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A rehearsal kept here cannot be read", e);
        }
    }
}
