package firth.wording;

import firth.core.findings.Check;
import firth.core.findings.CheckDetail;
import firth.core.findings.Detail;
import firth.core.model.Kind;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.function.Function;

/** The lines of a database's readiness in words. */
public final class ReadinessWords {

    private static final Map<Class<? extends CheckDetail>, BiFunction<Check, CheckDetail, String>> WORDS =
            new LinkedHashMap<>();

    static {
        WORDS.put(CheckDetail.Unsaid.class, (c, d) -> "It is not known " + unsaid(c.item()) + ".");
        on(CheckDetail.Untried.class, d -> "Nobody has tried to write to " + d.store() + ".");
        on(CheckDetail.Archiving.class, ReadinessWords::archiving);
        on(CheckDetail.AccountRights.class, ReadinessWords::rights);
        on(CheckDetail.EngineProcesses.class, ReadinessWords::processes);
        on(
                CheckDetail.HostScheduler.class,
                d -> d.on()
                        ? "The scheduler is on."
                        : "The scheduler is switched off: nothing starts, and nothing complains.");
        on(
                CheckDetail.ClientVersion.class,
                d -> "Client " + d.client() + (d.fits() ? " fits server " : " is older than server ") + d.server()
                        + ".");
        on(CheckDetail.NoRoute.class, d -> "No route says where its backups go.");
        on(CheckDetail.StoreTried.class, ReadinessWords::tried);
        on(
                CheckDetail.SharesHost.class,
                d -> d.store() + " runs on " + d.host() + ", the database's own host: both are lost together.");
        on(CheckDetail.SharesSite.class, d -> "All of its route lies at its own site: both are lost together.");
        on(
                CheckDetail.HostsUnknown.class,
                d -> "A store of its route stands elsewhere; on which hosts all of them run is not known.");
        on(CheckDetail.KeptApart.class, d -> "No store runs on its own host, and one stands at another site.");
        on(CheckDetail.LogDiskRoom.class, ReadinessWords::logDisk);
        on(CheckDetail.Succeeded.class, d -> taken(d.kind()) + " succeeded" + (d.byHand() ? ", taken by hand." : "."));
        on(
                CheckDetail.NeverSucceeded.class,
                d -> "No backup has ever succeeded: take one by hand before trusting a schedule.");
        on(CheckDetail.CalledBy.class, ReadinessWords::called);
        on(CheckDetail.ConsistsOf.class, ReadinessWords::consists);
    }

    private ReadinessWords() {}

    private static <D extends CheckDetail> void on(Class<D> detail, Function<D, String> words) {
        WORDS.put(detail, (c, d) -> words.apply(detail.cast(d)));
    }

    /** The kinds of detail there are words for. */
    static Set<Class<? extends CheckDetail>> known() {
        return Set.copyOf(WORDS.keySet());
    }

    /** What is known of a line, in a sentence. */
    public static String of(Check check) {
        String text =
                Objects.requireNonNull(WORDS.get(check.detail().getClass())).apply(check, check.detail());
        return check.outdated() ? "Too long ago to count: " + text : text;
    }

    /** One that is not ready, as a finding. */
    static Said notReady(Detail.NotReady d) {
        Check check = d.check();
        String text = d.full()
                .map(f -> "Its logs are no longer archived and pile up: the log disk is full on "
                        + Wording.shortMoment(f, d.zone()) + ", and then the database stops.")
                .orElseGet(() -> of(check));
        return new Said(
                title(check.item()),
                text + check.source().map(s -> " (" + s + ")").orElse(""),
                check.item() == Check.Item.LOG_DISK
                        ? "Make room there, or see to it that its logs are archived again."
                        : "Fix it on the host; the next probe shows whether that worked.");
    }

    private static String title(Check.Item item) {
        return switch (item) {
            case LOGS -> "its logs are not archived";
            case RIGHTS -> "the rights of its backup account do not fit";
            case PROCESSES -> "a process that backups need is down";
            case SCHEDULER -> "the scheduler that starts its backups is off";
            case VERSIONS -> "client and server versions do not fit";
            case DESTINATION -> "a store on its route does not accept its backups";
            case APART -> "its backups are not kept apart from it";
            case LOG_DISK -> "its log disk is filling";
            case BACKUP -> "no backup has ever succeeded";
            case NAMES -> "it goes by two names";
            case COMPONENTS -> "it does not consist of what was stated";
        };
    }

    private static String unsaid(Check.Item item) {
        return switch (item) {
            case LOGS -> "whether logs are archived";
            case RIGHTS -> "what the backup account may do";
            case PROCESSES -> "whether the engine's processes are up";
            case SCHEDULER -> "whether the scheduler is on";
            case VERSIONS -> "whether client and server fit";
            case DESTINATION, APART -> "where its backups go";
            case LOG_DISK -> "how much room the log disk has";
            case BACKUP -> "whether a backup succeeded";
            case NAMES -> "what it is called on the other sides";
            case COMPONENTS -> "what it consists of";
        };
    }

    private static String archiving(CheckDetail.Archiving d) {
        return switch (d.mode()) {
            case ON -> "Logs are archived.";
            case WAITING_FOR_RESTART ->
                "Archiving logs is switched on and waits for a restart: backups can begin now, logs after "
                        + d.downtime()
                                .map(from -> "the downtime of " + Wording.moment(from, d.zone()))
                                .orElse("the next downtime, which nobody has set yet")
                        + ".";
            case OFF ->
                d.asked()
                        ? "Logs are not archived, and its policy asks for them: nothing between two data backups"
                                + " can be restored."
                        : "Logs are not archived, and no policy asks for them.";
        };
    }

    private static String rights(CheckDetail.AccountRights d) {
        List<String> wrong = new ArrayList<>();
        if (!d.lacking().isEmpty()) {
            wrong.add("lacks " + String.join(", ", d.lacking()));
        }
        if (!d.beyond().isEmpty()) {
            wrong.add("has more rights than backups need: " + String.join(", ", d.beyond()));
        }
        return wrong.isEmpty()
                ? "The backup account has the rights that backups need and no more."
                : "The backup account " + String.join(" and ", wrong) + ".";
    }

    private static String processes(CheckDetail.EngineProcesses d) {
        return d.down().isEmpty()
                ? "Up: " + String.join(", ", d.up()) + "."
                : "Not running: " + String.join(", ", d.down()) + ".";
    }

    private static String tried(CheckDetail.StoreTried d) {
        String because = d.message().map(m -> ": " + m).orElse("");
        String free = d.free().isPresent() ? Wording.bytes(d.free().getAsDouble()) : "";
        return switch (d.writing()) {
            case NOT_REACHED -> d.store() + " cannot be reached" + because + ".";
            case REFUSED -> d.store() + " refuses writes" + because + ".";
            case TOO_SMALL ->
                d.store() + " has " + free + " free; the next full needs about "
                        + Wording.bytes(d.needed().orElse(0)) + ".";
            case ONLY_REACHED -> d.store() + " was reached; nobody has tried to write there.";
            case WRITTEN -> d.store() + " was written to" + (free.isEmpty() ? "" : "; " + free + " free") + ".";
        };
    }

    private static String logDisk(CheckDetail.LogDiskRoom d) {
        String free = "The log disk has " + Wording.bytes(d.free()) + " free and ";
        if (d.perHour().isEmpty()) {
            return free + "does not fill.";
        }
        return free + "fills by " + Wording.bytes(d.perHour().getAsDouble()) + " an hour: with nothing archived, it "
                + (d.enough() ? "lasts " : "is full in ")
                + d.left().map(Wording::duration).orElse("") + ".";
    }

    private static String taken(Kind kind) {
        return kind == Kind.DIFF || kind == Kind.INCR ? capital(Wording.aKind(kind)) : "A " + kind.word();
    }

    private static String capital(String words) {
        return words.substring(0, 1).toUpperCase(Locale.ROOT) + words.substring(1);
    }

    /** So many parts are named; of more it is said how many there are. */
    private static final int NAMED = 6;

    private static String consists(CheckDetail.ConsistsOf d) {
        if (!d.unstated().isEmpty() || !d.missing().isEmpty()) {
            List<String> wrong = new ArrayList<>();
            if (!d.unstated().isEmpty()) {
                wrong.add("It has " + some(d.unstated()) + ", which nobody stated: no backup is looked at for "
                        + (d.unstated().size() == 1 ? "it." : "them."));
            }
            if (!d.missing().isEmpty()) {
                wrong.add("It has no " + some(d.missing()) + ", though that was stated.");
            }
            return String.join(" ", wrong);
        }
        return "It consists of "
                + some(d.found().stream()
                        .map(c -> c.name()
                                + (c.bytes().isPresent()
                                        ? " (" + Wording.bytes(c.bytes().getAsDouble()) + ")"
                                        : ""))
                        .toList())
                + (d.stated()
                        ? ", as stated."
                        : ". None of that is stated, so a backup that went well is taken to hold it all.");
    }

    private static String some(List<String> names) {
        int more = names.size() - NAMED;
        return more <= 0
                ? String.join(", ", names)
                : String.join(", ", names.subList(0, NAMED)) + " and " + more + " more";
    }

    private static String called(CheckDetail.CalledBy d) {
        if (d.others().isEmpty()) {
            return "Called " + d.name() + " by " + String.join(" and ", d.sides()) + ".";
        }
        List<String> wrong = d.others().stream()
                .map(o -> "the " + o.side() + " calls it " + o.name() + (o.hardly() ? ", which hardly differs" : ""))
                .toList();
        return "Enrolled as " + d.name() + ", but " + String.join("; ", wrong) + ".";
    }
}
