package firth.server.sending;

import com.fasterxml.jackson.databind.ObjectMapper;
import firth.core.findings.Finding;
import firth.core.findings.Finding.Severity;
import firth.core.model.Database;
import firth.core.model.Outcome;
import firth.core.model.Run;
import firth.server.documents.Rendering;
import firth.server.evaluation.Condition;
import firth.server.evaluation.Evaluations;
import firth.server.evaluation.FindingsNow;
import firth.server.evaluation.Lookout;
import firth.server.platform.FactsHolder;
import firth.server.sending.SendingView.SendList;
import firth.store.Lives;
import firth.store.Outbox;
import firth.wording.FindingWords;
import io.quarkus.runtime.StartupEvent;
import io.quarkus.scheduler.Scheduled;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.jboss.logging.Logger;

/** Tells those who want to know: notices what is new, keeps a message of it, sends it, and tries again where that fails. */
@ApplicationScoped
public class Sending {

    private static final Logger LOG = Logger.getLogger(Sending.class);

    /** What came to light longer ago is no news. */
    private static final Duration NEWS = FindingsNow.RECENTLY;

    /** A digest that could not be made in time is made up to so much later. */
    private static final Duration LATE = Duration.ofHours(6);

    private static final String MAIL = "mail";
    private static final int TRIES = 8;
    private static final Duration FIRST_WAIT = Duration.ofSeconds(30);
    private static final int AT_ONCE = 50;

    private final SendLists lists;
    private final MessageWriter composing;
    private final MessageDelivery post;
    private final Rendering rendering;
    private final Evaluations evaluations;
    private final FindingsNow findings;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final ObjectMapper json;

    Sending(
            SendLists lists,
            MessageWriter composing,
            MessageDelivery post,
            Rendering rendering,
            Evaluations evaluations,
            FindingsNow findings,
            FactsHolder facts,
            Lookout lookout,
            ObjectMapper json) {
        this.lists = lists;
        this.composing = composing;
        this.post = post;
        this.rendering = rendering;
        this.evaluations = evaluations;
        this.findings = findings;
        this.facts = facts;
        this.lookout = lookout;
        this.json = json;
    }

    private Outbox outbox() {
        return facts.store().outbox();
    }

    void start(@Observes StartupEvent event) {
        outbox().forgetSending();
    }

    @Scheduled(every = "15s", delayed = "10s", concurrentExecution = Scheduled.ConcurrentExecution.SKIP)
    void round() {
        notice();
        deliver();
    }

    /** Keeps messages of what is new for every list; of what is known already nothing. */
    void notice() {
        List<SendLists.Known> open =
                lists.all().stream().filter(k -> k.list().enabled()).toList();
        if (open.isEmpty()) {
            return;
        }
        Instant now = lookout.now();
        Lookout.View view = lookout.view("", "");
        List<Condition> conditions = findings.conditions(view);
        List<Finding> found = findings.now(evaluations.fleetNow(), conditions, view.asOf(), now);
        findings.noted(found, now);
        Map<String, Finding> byKey =
                found.stream().collect(Collectors.toMap(Finding::key, Function.identity(), (one, other) -> one));
        List<Lives.Life> moved = facts.store().lives().movedBetween(now.minus(NEWS), now);
        for (SendLists.Known k : open) {
            Predicate<Database> which = SendLists.databases(k.list(), view.asOf());
            Set<String> ids = conditions.stream()
                    .map(Condition::database)
                    .filter(which)
                    .map(Database::id)
                    .collect(Collectors.toSet());
            List<MessageWriter.News> news = new ArrayList<>();
            moved.forEach(life -> news.addAll(news(k, life, byKey, ids)));
            conditions.stream().filter(c -> ids.contains(c.database().id())).forEach(c -> news.addAll(runs(k, c, now)));
            keep(k.list(), news, now);
            digests(k, view, found, ids, now);
        }
    }

    /** Of each thing a message is kept under its own name, so that it is told once. */
    private void keep(SendList list, List<MessageWriter.News> news, Instant now) {
        List<Outbox.Message> out = new ArrayList<>();
        for (MessageWriter.News n : news) {
            if (!list.mails().isEmpty()) {
                out.add(composing.item(list, MAIL, n, now));
            }
            if (!list.webhook().isEmpty()) {
                out.add(composing.item(list, "webhook", n, now));
            }
        }
        outbox().add(out);
    }

    private static List<MessageWriter.News> news(
            SendLists.Known k, Lives.Life life, Map<String, Finding> byKey, Set<String> ids) {
        SendList list = k.list();
        Optional<Severity> wanted = SendLists.rank(list.rank());
        boolean ranks = wanted.isPresent()
                && SendLists.rank(life.severity())
                        .filter(s -> s.compareTo(wanted.get()) <= 0)
                        .isPresent();
        List<String> own = List.of(life.databases().split(",")).stream()
                .filter(ids::contains)
                .toList();
        boolean concerns = life.databases().isEmpty() ? list.by().equals("fleet") : !own.isEmpty();
        if (!ranks || !concerns) {
            return List.of();
        }
        List<MessageWriter.News> out = new ArrayList<>();
        Finding now = byKey.get(life.key());
        String names = own.isEmpty() ? "" : String.join(", ", own.subList(0, Math.min(3, own.size()))) + ": ";
        if (life.first().isAfter(k.since())) {
            out.add(new MessageWriter.News(
                    life.key(),
                    "firth.finding.began",
                    names + life.title(),
                    own,
                    now == null ? "It is over already." : FindingWords.of(now).text(),
                    now == null ? "" : FindingWords.of(now).action(),
                    life.severity(),
                    life.first()));
        }
        life.gone()
                .filter(g -> list.ends() && g.isAfter(k.since()))
                .ifPresent(g -> out.add(new MessageWriter.News(
                        life.key(),
                        "firth.finding.ended",
                        names + "no longer: " + life.title(),
                        own,
                        "It began " + life.first() + " and is no longer found since " + g + ".",
                        "",
                        life.severity(),
                        g)));
        return out;
    }

    private static List<MessageWriter.News> runs(SendLists.Known k, Condition c, Instant now) {
        SendList list = k.list();
        if (!list.runsFailed() && !list.runsOk()) {
            return List.of();
        }
        Instant from = now.minus(NEWS).isAfter(k.since()) ? now.minus(NEWS) : k.since();
        List<MessageWriter.News> out = new ArrayList<>();
        for (Run r : c.ended()) {
            boolean wanted =
                    r.outcome() == Outcome.FAILED && list.runsFailed() || r.outcome() == Outcome.OK && list.runsOk();
            if (wanted && r.ended().filter(x -> x.isAfter(from)).isPresent()) {
                boolean failed = r.outcome() == Outcome.FAILED;
                out.add(new MessageWriter.News(
                        r.id(),
                        failed ? "firth.run.failed" : "firth.run.ok",
                        c.database().name() + ": a run of kind " + r.kind().word()
                                + (failed ? " failed" : " went well"),
                        List.of(c.database().id()),
                        r.message()
                                .filter(m -> !m.isBlank())
                                .orElse(failed ? "It said nothing." : "It said nothing more."),
                        failed ? "Look at " + r.id() + " in History." : "",
                        "",
                        r.ended().orElseThrow()));
            }
        }
        return out;
    }

    /** The morning watch and reports, each on its day. */
    private void digests(SendLists.Known k, Lookout.View view, List<Finding> found, Set<String> ids, Instant now) {
        SendList list = k.list();
        if (list.mails().isEmpty()) {
            return;
        }
        ZonedDateTime local = now.atZone(SendLists.zone(list));
        LocalDate day = local.toLocalDate();
        if (!list.watchAt().isEmpty()
                && due(k, day.atTime(SendLists.time(list.watchAt())).atZone(local.getZone()), now)) {
            List<Finding> own = found.stream()
                    .filter(f -> f.databases().isEmpty()
                            ? list.by().equals("fleet")
                            : f.databases().stream().anyMatch(ids::contains))
                    .toList();
            Evaluations.Fleetwide answers = evaluations.those(d -> ids.contains(d.id()), view);
            outbox().add(List.of(composing.watch(list, day, answers, own, now)));
        }
        boolean begins = list.report().equals("weekly") && day.getDayOfWeek() == DayOfWeek.MONDAY
                || list.report().equals("quarterly") && day.getDayOfMonth() == 1 && (day.getMonthValue() - 1) % 3 == 0;
        String at = list.watchAt().isEmpty() ? "06:00" : list.watchAt();
        if (begins && due(k, day.atTime(SendLists.time(at)).atZone(local.getZone()), now)) {
            outbox().add(List.of(composing.report(list, day, now)));
        }
    }

    private static boolean due(SendLists.Known k, ZonedDateTime at, Instant now) {
        Instant moment = at.toInstant();
        return !moment.isAfter(now) && moment.plus(LATE).isAfter(now) && moment.isAfter(k.since());
    }

    /** Sends what is due: what one list is told by mail goes in one mail. */
    void deliver() {
        Map<String, SendList> known =
                lists.all().stream().map(SendLists.Known::list).collect(Collectors.toMap(SendList::id, l -> l));
        Map<String, List<Outbox.Message>> together = new LinkedHashMap<>();
        for (Outbox.Message m : outbox().take(lookout.now(), AT_ONCE)) {
            boolean joins = m.way().equals(MAIL)
                    && !WrittenMessage.of(json, m.document()).data().isEmpty();
            together.computeIfAbsent(joins ? m.list() : m.id(), k -> new ArrayList<>())
                    .add(m);
        }
        together.values()
                .forEach(own -> deliver(Optional.ofNullable(known.get(own.get(0).list())), own));
    }

    private void deliver(Optional<SendList> list, List<Outbox.Message> own) {
        if (list.isEmpty()) {
            own.forEach(m -> outbox().tell(m, "failed", lookout.now(), "the list is no longer there"));
            return;
        }
        try {
            send(list.get(), own);
            own.forEach(m -> outbox().tell(m, "sent", lookout.now(), ""));
        } catch (MessageDelivery.NotSent e) {
            LOG.warnf("Not sent to %s: %s", list.get().id(), e.getMessage());
            for (Outbox.Message m : own) {
                boolean again = m.tries() + 1 < TRIES;
                Duration wait = FIRST_WAIT.multipliedBy(1L << Math.min(10, m.tries()));
                outbox().tell(
                                m,
                                again ? "waiting" : "failed",
                                lookout.now().plus(wait),
                                String.valueOf(e.getMessage()));
            }
        }
    }

    private void send(SendList list, List<Outbox.Message> own) throws MessageDelivery.NotSent {
        Outbox.Message first = own.get(0);
        WrittenMessage w = WrittenMessage.of(json, first.document());
        if (first.way().equals("webhook")) {
            post.event(list.webhook(), list.secret(), first.id(), w.type(), w.subject(), first.made(), w.data());
        } else if (w.data().isEmpty()) {
            Optional<MessageDelivery.Attached> attached = w.attached().isEmpty()
                    ? Optional.empty()
                    : Optional.of(new MessageDelivery.Attached("report.html", w.attached()));
            post.mail(first.id(), w.to(), first.title(), w.text(), w.html(), attached);
        } else {
            var sheet = composing.mail(
                    list,
                    own.stream()
                            .map(m -> composing.news(WrittenMessage.of(json, m.document())))
                            .toList(),
                    lookout.now());
            post.mail(
                    first.id(),
                    list.mails(),
                    sheet.title(),
                    rendering.text(sheet),
                    rendering.bare(sheet),
                    Optional.empty());
        }
    }

    /** Sends something to a list now, to see whether it arrives. */
    SendingView.Tried tryOut(SendList list) {
        Instant now = lookout.now();
        try {
            var sheet = composing.test(list, now);
            if (!list.mails().isEmpty()) {
                post.mail(
                        "try-" + list.id() + "-" + now.toEpochMilli(),
                        list.mails(),
                        sheet.title(),
                        rendering.text(sheet),
                        rendering.bare(sheet),
                        Optional.empty());
            }
            if (!list.webhook().isEmpty()) {
                post.event(
                        list.webhook(), list.secret(), "try-" + now.toEpochMilli(), "firth.try", list.id(), now, "{}");
            }
            return new SendingView.Tried(true, "");
        } catch (MessageDelivery.NotSent e) {
            return new SendingView.Tried(false, e.getMessage());
        }
    }
}
