package firth.cli;

import firth.core.evaluation.Evaluation;
import firth.core.evaluation.Grade;
import firth.core.findings.Finding;
import firth.core.findings.SharedPlace;
import firth.core.history.DatabaseFacts;
import firth.core.model.Backup;
import firth.core.model.Drill;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.time.Span;
import firth.exchange.EvaluationJson;
import firth.exchange.FleetFileReader;
import firth.exchange.ImportReport;
import firth.exchange.MemoryCatalog;
import firth.exchange.NotAFleetFile;
import firth.exchange.Texts;
import firth.exchange.ToldFindings;
import java.io.BufferedOutputStream;
import java.io.FileNotFoundException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code firth check}: the answers of the core for fleet files, without a server. */
@Command(
        name = "check",
        mixinStandardHelpOptions = true,
        description = "Evaluates fleet files: what can be restored, the recovery points achieved, gaps in the logs, and"
                + " which copies no rule needs.",
        footer = {"", "Exit status: 0 fine; 1 a database is at or below --fail-on; 2 the input could not be used."})
final class CheckCommand implements Callable<Integer> {

    private static final Duration DEFAULT_PERIOD = Duration.ofDays(30);
    private static final Map<String, Grade> GRADES = Map.of(
            "new",
            Grade.NEW,
            "covered",
            Grade.COVERED,
            "short",
            Grade.SHORT,
            "behind",
            Grade.BEHIND,
            "stranded",
            Grade.STRANDED);
    private static final Map<String, Hazard> HAZARDS =
            Map.of("mishap", Hazard.MISHAP, "siteLoss", Hazard.SITE_LOSS, "sabotage", Hazard.SABOTAGE);

    @Spec
    private CommandSpec spec;

    @Parameters(paramLabel = "FILE", arity = "1..*", description = "Fleet files, plain or gzip; - for standard input.")
    private List<String> files;

    @Option(
            names = "--as-of",
            paramLabel = "T",
            description = "The moment to look from, such as 2026-11-23T09:12:00Z;"
                    + " default: the newest moment at which something is recorded to have happened.")
    private @Nullable String asOf;

    @Option(
            names = "--period",
            paramLabel = "FROM/TO",
            description = "The stretch the achieved figures are about;" + " default: the 30 days before the moment.")
    private @Nullable String period;

    @Option(names = "--format", paramLabel = "json|text", defaultValue = "text", description = "Default: text.")
    private String format;

    @Option(names = "--database", paramLabel = "ID", description = "Only these databases.")
    private @Nullable List<String> databases;

    @Option(
            names = "--hazard",
            paramLabel = "H",
            defaultValue = "mishap",
            description = "The hazard the text is about: mishap, siteLoss or sabotage; default: mishap.")
    private String hazard;

    @Option(
            names = "--fail-on",
            paramLabel = "GRADE",
            description = "Exit with 1 when a database is graded so or worse: covered, short, behind, stranded."
                    + " A database that cannot be computed counts as stranded.")
    private @Nullable String failOn;

    @Override
    public Integer call() throws IOException {
        Optional<Grade> limit = Optional.ofNullable(failOn).map(g -> word("--fail-on", g, GRADES));
        Hazard shown = word("--hazard", hazard, HAZARDS);
        boolean json = word("--format", format, Map.of("json", true, "text", false));
        MemoryCatalog catalog = new MemoryCatalog();
        List<ImportReport> reports = new ArrayList<>();
        if (!read(catalog, reports)) {
            return 2;
        }
        Instant now = asOf == null ? catalog.newestFact().orElse(Instant.EPOCH) : instant("--as-of", asOf);
        Span over = period == null ? new Span(now.minus(DEFAULT_PERIOD), now) : span(period);
        List<DatabaseFacts> chosen = choose(catalog.databases());
        List<ImportReport.Rejected> rejected =
                reports.stream().flatMap(r -> r.rejected().stream()).toList();
        Answers answers = new Answers(catalog, now, over, chosen);
        if (json) {
            OutputStream out = new BufferedOutputStream(System.out, 1 << 16);
            try (EvaluationJson document = new EvaluationJson(out, now, over, rejected)) {
                answers.write(document);
            }
            out.flush();
        } else {
            PrintWriter out = spec.commandLine().getOut();
            new CheckText(out, shown).write(now, over, reports, answers);
            out.flush();
        }
        return limit.filter(answers::anyAtOrBelow).isPresent() ? 1 : 0;
    }

    private boolean read(MemoryCatalog catalog, List<ImportReport> reports) {
        boolean usable = true;
        for (String file : files) {
            try (InputStream in = file.equals("-") ? System.in : Files.newInputStream(Path.of(file))) {
                String name = file.equals("-")
                        ? "standard input"
                        : Path.of(file).getFileName().toString();
                reports.add(FleetFileReader.read(in, name, catalog));
            } catch (NotAFleetFile e) {
                usable = complain(String.valueOf(e.getMessage()));
            } catch (NoSuchFileException | FileNotFoundException e) {
                usable = complain(file + " does not exist.");
            } catch (IOException e) {
                usable = complain(file + " cannot be read: " + e.getMessage());
            }
        }
        return usable;
    }

    private boolean complain(String sentence) {
        spec.commandLine().getErr().println("firth check: " + sentence);
        return false;
    }

    private List<DatabaseFacts> choose(List<DatabaseFacts> all) {
        if (databases == null) {
            return all;
        }
        for (String id : databases) {
            if (all.stream().noneMatch(f -> f.database().id().equals(id))) {
                throw new ParameterException(spec.commandLine(), "no database " + id + " is in the files");
            }
        }
        return all.stream().filter(f -> databases.contains(f.database().id())).toList();
    }

    private <T> T word(String option, String value, Map<String, T> words) {
        T found = words.get(value);
        if (found == null) {
            throw new ParameterException(
                    spec.commandLine(),
                    option + " is none of "
                            + String.join(", ", words.keySet().stream().sorted().toList()) + ": " + value);
        }
        return found;
    }

    private Instant instant(String option, String value) {
        return Texts.instant(value)
                .orElseThrow(() -> new ParameterException(
                        spec.commandLine(),
                        String.format(
                                Locale.ROOT,
                                "%s is not an RFC 3339 instant such as 2026-11-23T09:12:00Z: %s",
                                option,
                                value)));
    }

    private Span span(String value) {
        String[] ends = value.split("/", -1);
        if (ends.length != 2) {
            throw new ParameterException(spec.commandLine(), "--period is not FROM/TO: " + value);
        }
        Instant from = instant("--period", ends[0]);
        Instant to = instant("--period", ends[1]);
        if (to.isBefore(from)) {
            throw new ParameterException(spec.commandLine(), "--period ends before it begins: " + value);
        }
        return new Span(from, to);
    }

    /** The evaluations, made one after the other and only when asked for. */
    static final class Answers {
        private final Fleet fleet;
        private final Map<String, List<Backup>> backups;
        private final Map<String, List<Drill>> drills;
        private final Instant now;
        private final Span period;
        private final List<DatabaseFacts> databases;
        private final List<SharedPlace> shared;
        private final List<Grade> grades = new ArrayList<>();

        Answers(MemoryCatalog catalog, Instant now, Span period, List<DatabaseFacts> databases) {
            this.fleet = catalog.fleet();
            this.backups = catalog.backups();
            this.drills = catalog.drills();
            this.now = now;
            this.period = period;
            this.databases = databases;
            this.shared = SharedPlace.among(backups.values().stream()
                    .flatMap(List::stream)
                    .flatMap(b -> ToldFindings.lying(b, now))
                    .toList());
        }

        interface Sink {
            void take(Evaluation evaluation, List<Finding> findings) throws IOException;
        }

        void each(Sink sink) throws IOException {
            for (DatabaseFacts facts : databases) {
                if (facts.database().inServiceFrom().isAfter(now)) {
                    continue;
                }
                Evaluation evaluation = Evaluation.of(facts, fleet, now, period);
                grades.add(evaluation.grade());
                sink.take(evaluation, findings(evaluation, facts));
            }
        }

        private List<Finding> findings(Evaluation e, DatabaseFacts facts) {
            String id = e.database().id();
            List<Backup> own = backups.getOrDefault(id, List.of());
            List<SharedPlace> places =
                    shared.stream().filter(p -> p.concerns(id)).toList();
            return ToldFindings.all(e, facts, fleet, ToldFindings.in(own, places), drills.getOrDefault(id, List.of()));
        }

        void write(EvaluationJson document) throws IOException {
            each(document::write);
        }

        boolean anyAtOrBelow(Grade limit) {
            return grades.stream().anyMatch(g -> g.compareTo(limit) <= 0);
        }
    }
}
