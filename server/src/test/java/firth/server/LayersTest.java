package firth.server;

import static com.tngtech.archunit.library.Architectures.layeredArchitecture;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.domain.JavaModifier;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.lang.syntax.ArchRuleDefinition;
import com.tngtech.archunit.library.dependencies.SlicesRuleDefinition;
import jakarta.ws.rs.Path;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.PrintStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Scanner;
import java.util.TimeZone;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Dependencies point one way: core, wording, engines, then exchange and store beside each other, then server and demo. */
@AnalyzeClasses(packages = "firth", importOptions = ImportOption.DoNotIncludeTests.class)
class LayersTest {

    private static final int LONGEST_RESOURCE = 120;

    @ArchTest
    static final ArchRule pointOneWay = layeredArchitecture()
            .consideringOnlyDependenciesInLayers()
            .layer("core")
            .definedBy("firth.core..")
            .layer("wording")
            .definedBy("firth.wording..")
            .layer("engines")
            .definedBy("firth.engines..")
            .layer("exchange")
            .definedBy("firth.exchange..")
            .layer("servers")
            .definedBy("firth.servers..")
            .layer("agent")
            .definedBy("firth.agent..")
            .layer("runner")
            .definedBy("firth.runner..")
            .layer("store")
            .definedBy("firth.store..")
            .layer("server")
            .definedBy("firth.server..")
            .layer("demo")
            .definedBy("firth.demo..")
            .whereLayer("server")
            .mayNotBeAccessedByAnyLayer()
            .whereLayer("demo")
            .mayNotBeAccessedByAnyLayer()
            .whereLayer("wording")
            .mayOnlyBeAccessedByLayers("exchange", "server", "demo")
            .whereLayer("engines")
            .mayOnlyBeAccessedByLayers("server", "demo", "agent", "runner")
            .whereLayer("servers")
            .mayOnlyBeAccessedByLayers("demo")
            .whereLayer("exchange")
            .mayOnlyBeAccessedByLayers("server", "demo", "agent", "runner")
            .whereLayer("runner")
            .mayNotBeAccessedByAnyLayer()
            .whereLayer("agent")
            .mayOnlyBeAccessedByLayers("demo")
            .whereLayer("store")
            .mayOnlyBeAccessedByLayers("server", "demo");

    /** Features of the server: each may use those before it and none of those after it. */
    private static final List<String> FEATURES = List.of(
            "platform",
            "documents",
            "evaluation",
            "intake",
            "people",
            "record",
            "selfcopy",
            "metrics",
            "cover",
            "gaps",
            "history",
            "fleet",
            "places",
            "policies",
            "week",
            "runners",
            "watch",
            "database",
            "stocktake",
            "restore",
            "drills",
            "rehearsal",
            "stores",
            "purge",
            "sheets",
            "agents",
            "reports",
            "sending",
            "live");

    @ArchTest
    static final ArchRule serverHasNoCycle = SlicesRuleDefinition.slices()
            .matching("firth.server.(*)..")
            .should()
            .beFreeOfCycles();

    @ArchTest
    static void serverLooksOnlyDown(JavaClasses classes) {
        for (int f = 0; f + 1 < FEATURES.size(); f++) {
            ArchRuleDefinition.noClasses()
                    .that()
                    .resideInAPackage("firth.server." + FEATURES.get(f) + "..")
                    .should()
                    .dependOnClassesThat()
                    .resideInAnyPackage(FEATURES.subList(f + 1, FEATURES.size()).stream()
                            .map(l -> "firth.server." + l + "..")
                            .toArray(String[]::new))
                    .check(classes);
        }
        classes.stream()
                .map(JavaClass::getPackageName)
                .filter(p -> (p + ".").startsWith("firth.server."))
                .forEach(p -> assertTrue(
                        FEATURES.contains(p.replaceFirst("^firth\\.server\\.?", "")), p + " stands in no order"));
    }

    /** The roles a resource asks for hold for each of its methods: what the clock or another class calls is refused there. */
    @ArchTest
    static void resourcesAreCalledByRequestsAlone(JavaClasses classes) {
        assertEquals(
                List.of(),
                classes.stream()
                        .flatMap(c -> c.getMethodCallsFromSelf().stream())
                        .filter(c -> c.getTargetOwner().isAnnotatedWith(Path.class)
                                && !c.getOriginOwner().equals(c.getTargetOwner()))
                        .filter(c -> c.getTarget()
                                .resolveMember()
                                .filter(m -> !m.getModifiers().contains(JavaModifier.STATIC))
                                .isPresent())
                        .map(c -> c.getDescription())
                        .toList());
    }

    /** A resource translates between HTTP and what does the work: it is short. */
    @Test
    void resourcesTranslateAlone() throws IOException {
        List<String> found = new ArrayList<>();
        try (Stream<java.nio.file.Path> files = Files.walk(java.nio.file.Path.of("src/main/java"))) {
            for (java.nio.file.Path file :
                    files.filter(f -> f.toString().endsWith("Resource.java")).toList()) {
                long lines = Files.readString(file, StandardCharsets.UTF_8)
                        .replaceAll("(?s)/\\*.*?\\*/", "")
                        .lines()
                        .filter(l -> !l.isBlank() && !l.startsWith("import ") && !l.startsWith("package "))
                        .count();
                if (lines > LONGEST_RESOURCE) {
                    found.add(file.getFileName() + ": " + lines + " lines");
                }
            }
        }
        assertEquals(List.of(), found);
    }

    @ArchTest
    static void givesEachNameOnce(JavaClasses classes) {
        Map<String, List<String>> named = classes.stream()
                .filter(c -> c.getPackageName().startsWith("firth.server"))
                .filter(c -> !c.isAnonymousClass()
                        && !c.getModifiers().contains(JavaModifier.PRIVATE)
                        && !c.getSimpleName().isEmpty()
                        && !c.getSimpleName().equals("package-info"))
                .collect(Collectors.groupingBy(
                        JavaClass::getSimpleName,
                        TreeMap::new,
                        Collectors.mapping(JavaClass::getName, Collectors.toList())));
        named.values().removeIf(same -> same.size() == 1);
        assertEquals(Map.of(), named, "one name, one thing");
    }

    /** The live fleet writes into a SQLite file as an application of its owner does. */
    @ArchTest
    static final ArchRule onlyTheStoreSpeaksSql = ArchRuleDefinition.noClasses()
            .that()
            .resideOutsideOfPackages("firth.store..", "firth.engines.sqlite..", "firth.demo.live..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage("java.sql..", "org.sqlite..", "org.flywaydb..");

    /** A machine's language, zone and charset decide nothing: whoever formats, parses or compares says by which. */
    @ArchTest
    static final ArchRule nothingDependsOnTheMachine = ArchRuleDefinition.noClasses()
            .should()
            .callMethod(String.class, "format", String.class, Object[].class)
            .orShould()
            .callMethod(String.class, "formatted", Object[].class)
            .orShould()
            .callMethod(String.class, "toLowerCase")
            .orShould()
            .callMethod(String.class, "toUpperCase")
            .orShould()
            .callMethod(String.class, "getBytes")
            .orShould()
            .callConstructor(String.class, byte[].class)
            .orShould()
            .callConstructor(InputStreamReader.class, InputStream.class)
            .orShould()
            .callConstructor(OutputStreamWriter.class, OutputStream.class)
            .orShould()
            .callConstructor(Scanner.class, InputStream.class)
            .orShould()
            .callMethod(DateTimeFormatter.class, "ofPattern", String.class)
            .orShould()
            .callMethod(ZoneId.class, "systemDefault")
            .orShould()
            .callMethod(Locale.class, "getDefault")
            .orShould()
            .callMethod(TimeZone.class, "getDefault")
            .orShould()
            .callMethod(Charset.class, "defaultCharset")
            .orShould()
            .callMethod(LocalDate.class, "now")
            .orShould()
            .callMethod(PrintStream.class, "printf", String.class, Object[].class);
}
