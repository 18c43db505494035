package firth.server;

import static com.tngtech.archunit.library.Architectures.layeredArchitecture;

import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import com.tngtech.archunit.lang.syntax.ArchRuleDefinition;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.PrintStream;
import java.nio.charset.Charset;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import java.util.Scanner;
import java.util.TimeZone;

/** Dependencies point one way: core, wording, then exchange and store beside each other, then server and demo. */
@AnalyzeClasses(packages = "firth", importOptions = ImportOption.DoNotIncludeTests.class)
class LayersTest {

    @ArchTest
    static final ArchRule pointOneWay = layeredArchitecture()
            .consideringOnlyDependenciesInLayers()
            .layer("core")
            .definedBy("firth.core..")
            .layer("wording")
            .definedBy("firth.wording..")
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
            .whereLayer("wording")
            .mayOnlyBeAccessedByLayers("exchange", "server", "demo")
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
