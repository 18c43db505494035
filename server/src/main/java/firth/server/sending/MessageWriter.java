package firth.server.sending;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import firth.core.evaluation.Evaluation;
import firth.core.findings.Finding;
import firth.core.model.Hazard;
import firth.core.time.Span;
import firth.server.documents.Document;
import firth.server.documents.Rendering;
import firth.server.evaluation.Evaluations;
import firth.server.reports.ReportPages;
import firth.server.reports.ReportScope;
import firth.server.sending.SendingView.SendList;
import firth.store.Outbox;
import firth.wording.FindingWords;
import firth.wording.Said;
import firth.wording.Wording;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.temporal.IsoFields;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;

/** Writes messages: of what began, ended or failed, the morning watch, and reports. */
@ApplicationScoped
class MessageWriter {

    private final Rendering rendering;
    private final ReportPages reports;
    private final MessageDelivery post;
    private final ObjectMapper json;

    MessageWriter(Rendering rendering, ReportPages reports, MessageDelivery post, ObjectMapper json) {
        this.rendering = rendering;
        this.reports = reports;
        this.post = post;
        this.json = json;
    }

    /** Something that befell databases: a finding that began or ended, a run that failed or went well. */
    record News(
            String key,
            String type,
            String title,
            List<String> databases,
            String text,
            String action,
            String rank,
            Instant at) {}

    /** Several things in one mail, the worst first. */
    Document mail(SendList list, List<News> news, Instant now) {
        List<News> sorted = news.stream()
                .sorted(Comparator.comparing((News n) -> order(n.rank())).thenComparing(News::key))
                .toList();
        String subject =
                "Firth: " + sorted.get(0).title() + (news.size() > 1 ? " and " + (news.size() - 1) + " more" : "");
        return new Document(
                subject,
                "For " + list.name() + ", " + now + ".",
                sorted.stream()
                        .map(n -> new Document.Section(
                                n.title(), new Document.Text(n.text()), new Document.Text(n.action())))
                        .toList(),
                "Sent by Firth, " + post.address() + "/watch");
    }

    private static int order(String rank) {
        return SendLists.rank(rank).map(Enum::ordinal).orElse(Integer.MAX_VALUE);
    }

    /** A message of one thing, by mail or as an event; mails of one list that are due together are sent as one. */
    Outbox.Message item(SendList list, String way, News n, Instant now) {
        try {
            WrittenMessage written =
                    new WrittenMessage(n.type(), n.key(), json.writeValueAsString(n), "", "", "", list.mails());
            return message(list, n.type() + "|" + n.key() + "|" + n.at(), way, n.title(), written, now);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A message cannot be written", e);
        }
    }

    News news(WrittenMessage written) {
        try {
            return json.readValue(written.data(), News.class);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A message kept here cannot be read", e);
        }
    }

    private Outbox.Message message(
            SendList list, String key, String way, String title, WrittenMessage written, Instant now) {
        return new Outbox.Message(
                list.id() + "|" + way + "|" + key,
                list.id(),
                way,
                title,
                written.document(json),
                now,
                "waiting",
                0,
                SendLists.after(list, now),
                "");
    }

    private WrittenMessage written(SendList list, Document sheet, String attached) {
        return new WrittenMessage("", "", "", rendering.text(sheet), rendering.bare(sheet), attached, list.mails());
    }

    /** The morning watch of the databases of a list. */
    Outbox.Message watch(SendList list, LocalDate day, Evaluations.Fleetwide own, List<Finding> found, Instant now) {
        ZoneId zone = SendLists.zone(list);
        List<Document.Section> sections = new ArrayList<>();
        sections.add(new Document.Section(
                "",
                new Document.Text(
                        found.isEmpty()
                                ? "Nothing is wrong with the " + own.answers().size()
                                        + " databases, as far as is known."
                                : found.size() == 1
                                        ? "One thing needs somebody."
                                        : found.size() + " things need somebody.")));
        for (Finding f : found) {
            Said said = FindingWords.of(f);
            sections.add(new Document.Section(
                    title(own, f), new Document.Text(said.text()), new Document.Text(said.action())));
        }
        sections.add(new Document.Section("Databases", figures(own)));
        String subject =
                "Firth: morning watch, " + day + ", " + found.size() + (found.size() == 1 ? " finding" : " findings");
        Document sheet = new Document(
                subject,
                "For " + list.name() + ", as of " + asOf(own, now) + ", " + zone + ".",
                sections,
                "Sent by Firth, " + post.address() + "/watch");
        return message(list, "watch|" + day, "mail", subject, written(list, sheet, ""), now);
    }

    private static Instant asOf(Evaluations.Fleetwide own, Instant now) {
        return own.answers().stream().map(Evaluation::asOf).findFirst().orElse(now);
    }

    /** The figures of `firth check`: seconds are said to the second. */
    private static Document.Table figures(Evaluations.Fleetwide own) {
        List<List<String>> rows = new ArrayList<>();
        for (Evaluation e : own.answers()) {
            var h = e.under(Hazard.MISHAP);
            rows.add(List.of(
                    e.database().name(),
                    Wording.grade(e),
                    Wording.measured(h.age()),
                    h.objective().map(Wording::duration).orElse(""),
                    Wording.measured(Duration.ofMillis((long) h.achieved().max())),
                    h.achieved()
                            .attainment()
                            .map(a -> String.format(Locale.ROOT, "%.2f %%", Math.floor(a * 10_000) / 100))
                            .orElse("")));
        }
        return new Document.Table(List.of("Database", "Grade", "Age", "Promised", "Worst of 30 days", "Kept"), rows);
    }

    static String title(Evaluations.Fleetwide all, Finding f) {
        String names = String.join(
                ", ",
                f.databases().stream()
                        .limit(3)
                        .map(d -> all.fleet().database(d).map(x -> x.name()).orElse(d))
                        .toList());
        int more = f.databases().size() - 3;
        return (names.isEmpty() ? "" : names + (more > 0 ? " and " + more + " more" : "") + ": ")
                + FindingWords.of(f).title();
    }

    /** The report of the week or quarter that ended before a day, as a page that goes with the mail. */
    Outbox.Message report(SendList list, LocalDate day, Instant now) {
        ZoneId zone = SendLists.zone(list);
        boolean weekly = list.report().equals("weekly");
        LocalDate from = weekly ? day.minusWeeks(1) : day.minus(1, IsoFields.QUARTER_YEARS);
        Span period = new Span(
                from.atStartOfDay(zone).toInstant(), day.atStartOfDay(zone).toInstant());
        Document sheet = reports.sheet(new ReportScope(list.by(), list.of(), period, now));
        String subject = "Firth: " + (weekly ? "report of the week" : "report of the quarter") + " from " + from;
        return message(
                list,
                "report|" + list.report() + "|" + day,
                "mail",
                subject,
                written(list, sheet, rendering.html(sheet)),
                now);
    }

    Document test(SendList list, Instant now) {
        return new Document(
                "Firth: a test message",
                "For " + list.name() + ", " + now + ".",
                List.of(new Document.Section(
                        "", new Document.Text("You were sent this because you are on the list " + list.name() + "."))),
                "Sent by Firth, " + post.address());
    }
}
