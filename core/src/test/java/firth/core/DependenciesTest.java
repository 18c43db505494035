package firth.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;

/** The core stands on the JDK alone, and does nothing but compute. */
@AnalyzeClasses(packages = "firth.core", importOptions = ImportOption.DoNotIncludeTests.class)
class DependenciesTest {

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
}
