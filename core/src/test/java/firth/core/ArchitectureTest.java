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
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;

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
                    "java.security..");

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

    /** Each may use those before it and none of those after it; {@code purge} says one disaster's name with {@code findings}. */
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
            "explain",
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
