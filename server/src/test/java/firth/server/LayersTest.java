package firth.server;

import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.lang.syntax.ArchRuleDefinition;

/** Dependencies point one way: core, then exchange and store beside each other, then server and demo. */
@AnalyzeClasses(packages = "firth", importOptions = ImportOption.DoNotIncludeTests.class)
class LayersTest {

    @ArchTest
    static final ArchRule pointOneWay = layeredArchitecture()
            .consideringOnlyDependenciesInLayers()
            .layer("core")
            .definedBy("firth.core..")
            .layer("exchange")
            .definedBy("firth.exchange..")
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
            .whereLayer("exchange")
            .mayOnlyBeAccessedByLayers("server", "demo")
            .whereLayer("store")
            .mayOnlyBeAccessedByLayers("server", "demo");

    @ArchTest
    static final ArchRule onlyTheStoreSpeaksSql = ArchRuleDefinition.noClasses()
            .that()
            .resideOutsideOfPackage("firth.store..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage("java.sql..", "org.sqlite..", "org.flywaydb..");
}
