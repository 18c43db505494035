package firth.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.domain.JavaModifier;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** The core stands on the JDK alone, does nothing but compute, and its packages form no cycle. */
@AnalyzeClasses(packages = "firth.core", importOptions = ImportOption.DoNotIncludeTests.class)
class ArchitectureTest {

    @ArchTest
    static final ArchRule standsAlone = classes()
            .should()
            .onlyDependOnClassesThat()
            .resideInAnyPackage(
                    "firth.core..",
                    "java.lang..",
                    "java.util..",
                    "java.time..",
                    "java.nio.charset..",
                    "java.security..",
                    "org.jspecify.annotations..");

    @ArchTest
    static final ArchRule hasNoClock = noClasses()
            .should()
            .callMethod(java.time.Instant.class, "now")
            .orShould()
            .callMethod(System.class, "currentTimeMillis")
            .orShould()
            .dependOnClassesThat()
            .areAssignableTo(java.time.Clock.class);

    @ArchTest
    static final ArchRule knowsNoFormat =
            noClasses().should().dependOnClassesThat().resideInAnyPackage("java.sql..", "java.io..", "java.net..");

    @ArchTest
    static final ArchRule hasNoCycle =
            slices().matching("firth.core.(*)..").should().beFreeOfCycles();

    /** Each may use those before it and none of those after it. */
    private static final List<String> PACKAGES = List.of(
            "time",
            "model",
            "history",
            "cover",
            "objective",
            "adherence",
            "retention",
            "evaluation",
            "restore",
            "forecast",
            "stocktake",
            "findings",
            "purge",
            "record");

    @ArchTest
    static void looksOnlyDown(JavaClasses classes) {
        for (int p = 0; p < PACKAGES.size(); p++) {
            String[] later = PACKAGES.subList(p + 1, PACKAGES.size()).stream()
                    .map(l -> "firth.core." + l + "..")
                    .toArray(String[]::new);
            if (later.length > 0) {
                noClasses()
                        .that()
                        .resideInAPackage("firth.core." + PACKAGES.get(p) + "..")
                        .should()
                        .dependOnClassesThat()
                        .resideInAnyPackage(later)
                        .check(classes);
            }
        }
        classes.stream()
                .map(c -> c.getPackageName().split("\\.")[2])
                .forEach(p -> assertTrue(PACKAGES.contains(p), p + " stands in no order"));
    }

    @ArchTest
    static final ArchRule holdsEverythingInAPackageOfItsName =
            noClasses().should().resideInAPackage("firth.core");

    /** Sentences stand in {@code wording}. What a refusal says, an exception or a reason a value is not taken, is no such sentence. */
    @Test
    void speaksNoSentences() throws IOException {
        Pattern sentence = Pattern.compile("\"[^\"\n]*[a-z]+ [a-z]+ [a-z]+[^\"\n]*\"");
        Set<String> refuse = Set.of("Place.java", "Chain.java", "Way.java", "Id.java");
        String key = "\"without a policy\"";
        List<String> found = new ArrayList<>();
        try (Stream<Path> files = Files.walk(Path.of("src/main/java"))) {
            for (Path file : files.filter(f -> f.toString().endsWith(".java")).toList()) {
                String code = Files.readString(file, StandardCharsets.UTF_8)
                        .replaceAll("(?s)/\\*.*?\\*/|//[^\n]*|Exception\\([^;]*;", "");
                Matcher words = sentence.matcher(code);
                while (words.find()) {
                    if (!refuse.contains(file.getFileName().toString())
                            && !words.group().equals(key)) {
                        found.add(file.getFileName() + ": " + words.group());
                    }
                }
            }
        }
        assertEquals(List.of(), found);
    }

    @ArchTest
    static void givesEachNameOnce(JavaClasses classes) {
        Map<String, List<String>> named = classes.stream()
                .filter(c -> !c.isAnonymousClass() && !c.getModifiers().contains(JavaModifier.PRIVATE))
                .filter(c -> !c.getSimpleName().isEmpty() && !c.getSimpleName().equals("package-info"))
                .collect(Collectors.groupingBy(
                        JavaClass::getSimpleName,
                        TreeMap::new,
                        Collectors.mapping(JavaClass::getName, Collectors.toList())));
        named.values().removeIf(same -> same.size() == 1);
        assertEquals(Map.of(), named, "one name, one thing");
    }
}
