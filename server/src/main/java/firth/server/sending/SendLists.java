package firth.server.sending;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import firth.core.findings.Finding;
import firth.core.model.Database;
import firth.core.record.Deed;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Who;
import firth.server.sending.SendingView.SendList;
import firth.store.Outbox;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.mail.internet.AddressException;
import jakarta.mail.internet.InternetAddress;
import java.net.URI;
import java.net.URISyntaxException;
import java.security.SecureRandom;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;

/** The lists of those who are told. */
@ApplicationScoped
class SendLists {

    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;
    private final ObjectMapper json;

    SendLists(FactsHolder facts, Lookout lookout, Who who, ObjectMapper json) {
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
        this.json = json;
    }

    /** A list and since when it is there. */
    record Known(SendList list, Instant since) {}

    List<Known> all() {
        return facts.store().outbox().lists().stream()
                .map(l -> new Known(read(l.document()), l.since()))
                .toList();
    }

    Optional<Known> one(String id) {
        return all().stream().filter(k -> k.list.id().equals(id)).findFirst();
    }

    SendList put(String id, SendList said) {
        check(id, said);
        String secret = said.secret().isEmpty()
                ? one(id).map(k -> k.list.secret()).filter(s -> !s.isEmpty()).orElseGet(SendLists::newSecret)
                : said.secret();
        SendList list = with(said, id, secret);
        facts.store()
                .outbox()
                .put(
                        new Outbox.SendingList(id, lookout.now(), write(list)),
                        new Deed.Told(who.id(), "sending-list", id, write(with(list, id, ""))),
                        lookout.now());
        return with(list, id, "");
    }

    void remove(String id) {
        if (one(id).isEmpty()) {
            throw new NotFound("There is no list " + id + ".");
        }
        facts.store().outbox().remove(id, new Deed.Told(who.id(), "sending-list-removed", id, "{}"), lookout.now());
    }

    static SendList with(SendList l, String id, String secret) {
        return new SendList(
                id,
                l.name(),
                l.enabled(),
                l.mails(),
                l.webhook(),
                secret,
                l.by(),
                l.of(),
                l.rank(),
                l.ends(),
                l.runsFailed(),
                l.runsOk(),
                l.quietFrom(),
                l.quietTo(),
                l.zone(),
                l.watchAt(),
                l.report());
    }

    private static String newSecret() {
        byte[] bytes = new byte[24];
        new SecureRandom().nextBytes(bytes);
        return Base64.getEncoder().encodeToString(bytes);
    }

    private static void check(String id, SendList l) {
        if (!id.matches("[A-Za-z0-9._:-]{1,120}")) {
            throw new BadRequest("id", "is not 1 to 120 letters, digits, dots, dashes and such");
        }
        if (l.name().isBlank()) {
            throw new BadRequest("name", "is missing");
        }
        for (String mail : l.mails()) {
            try {
                new InternetAddress(mail, true).validate();
            } catch (AddressException e) {
                throw new BadRequest("mails", "hold " + mail + ", which is not an address");
            }
        }
        if (!l.webhook().isEmpty() && !isAddress(l.webhook())) {
            throw new BadRequest("webhook", "is not an http or https address");
        }
        if (l.mails().isEmpty() && l.webhook().isEmpty()) {
            throw new BadRequest("mails", "and webhook are both missing: whom to tell?");
        }
        if (!List.of("fleet", "policy", "owner", "label").contains(l.by())) {
            throw new BadRequest("by", "is none of fleet, policy, owner, label");
        }
        if (!l.rank().isEmpty() && rank(l.rank()).isEmpty()) {
            throw new BadRequest("rank", "is not a rank of findings");
        }
        if (!List.of("", "weekly", "quarterly").contains(l.report())) {
            throw new BadRequest("report", "is neither weekly nor quarterly");
        }
        for (String time : List.of(l.quietFrom(), l.quietTo(), l.watchAt())) {
            if (!time.isEmpty()) {
                time(time);
            }
        }
        if (l.quietFrom().isEmpty() != l.quietTo().isEmpty()) {
            throw new BadRequest("quietTo", "and quietFrom go together");
        }
        zone(l);
    }

    private static boolean isAddress(String text) {
        try {
            URI uri = new URI(text);
            return uri.getHost() != null && List.of("http", "https").contains(uri.getScheme());
        } catch (URISyntaxException e) {
            return false;
        }
    }

    static LocalTime time(String text) {
        try {
            return LocalTime.parse(text);
        } catch (DateTimeException e) {
            throw new BadRequest("time", text + " is not HH:MM");
        }
    }

    static ZoneId zone(SendList l) {
        try {
            return ZoneId.of(l.zone());
        } catch (DateTimeException e) {
            throw new BadRequest("zone", l.zone() + " is not a time zone");
        }
    }

    static Optional<Finding.Severity> rank(String word) {
        return Arrays.stream(Finding.Severity.values())
                .filter(s -> s.word().equals(word))
                .findFirst();
    }

    /** Which databases a list is about, by the rules in force at a moment. */
    static Predicate<Database> databases(SendList l, Instant at) {
        return switch (l.by()) {
            case "policy" -> d -> d.policyAt(at).filter(l.of()::equals).isPresent();
            case "owner" -> d -> d.particulars().owner().filter(l.of()::equals).isPresent();
            case "label" ->
                d -> d.particulars().labels().entrySet().stream()
                        .anyMatch(e -> (e.getKey() + "=" + e.getValue()).equals(l.of()));
            default -> d -> true;
        };
    }

    /** When something may be sent: now, or at the end of the quiet hours one is in. */
    static Instant after(SendList l, Instant now) {
        if (l.quietFrom().isEmpty()) {
            return now;
        }
        LocalTime from = time(l.quietFrom());
        LocalTime to = time(l.quietTo());
        ZonedDateTime local = now.atZone(zone(l));
        LocalTime at = local.toLocalTime();
        boolean overnight = !from.isBefore(to);
        boolean quiet = overnight ? !at.isBefore(from) || at.isBefore(to) : !at.isBefore(from) && at.isBefore(to);
        if (!quiet) {
            return now;
        }
        ZonedDateTime end = local.toLocalDate().atTime(to).atZone(zone(l));
        return (end.isAfter(local)
                        ? end
                        : local.toLocalDate().plusDays(1).atTime(to).atZone(zone(l)))
                .toInstant();
    }

    private SendList read(String text) {
        try {
            return json.readValue(text, SendList.class);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A list kept here cannot be read", e);
        }
    }

    private String write(SendList list) {
        try {
            return json.writeValueAsString(list);
        } catch (JsonProcessingException e) {
            throw new IllegalStateException("A list cannot be written", e);
        }
    }
}
