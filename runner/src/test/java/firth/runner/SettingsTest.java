package firth.runner;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;

class SettingsTest {

    @TempDir
    private Path directory;

    private String good() {
        return """
                # The host on the quay.
                host = "pier"
                state = "/var/lib/firth/runner"
                every = "PT30S"

                [stores]
                near = "%s"

                [databases.harbour]
                engine = "postgresql"
                connection = "service=harbour"

                [databases.sheds]
                engine = "sqlite"
                file = "/srv/sheds.db"
                """.formatted(directory);
    }

    private Settings read(String text) throws IOException, Settings.Unusable {
        Path file = directory.resolve("runner.toml");
        Files.writeString(file, text);
        return Settings.of(file);
    }

    @Test
    void saysWhereEverythingLies() throws Exception {
        Settings s = read(good());
        assertEquals("pier", s.host());
        assertEquals(URI.create("http://127.0.0.1:8640"), s.firth());
        assertEquals(Optional.empty(), s.tokenFile());
        assertEquals(Duration.ofSeconds(30), s.every());
        assertEquals(Duration.ofDays(2), s.alone());
        assertEquals(directory, s.stores().get("near"));
        assertEquals(Set.of("harbour", "sheds"), s.databases().keySet());
        assertEquals(
                new Settings.Reached(
                        "postgresql",
                        "service=harbour",
                        Optional.empty(),
                        Optional.empty(),
                        false,
                        false,
                        Optional.empty()),
                s.databases().get("harbour"));
    }

    @Test
    void theLogOfAPostgresqlMayBeReceivedIntoAStore() throws Exception {
        String file = good().replace(
                        "connection = \"service=harbour\"", "connection = \"service=harbour\"\nreceive = \"near\"");
        assertEquals(Optional.of("near"), read(file).databases().get("harbour").receive());
        assertTrue(assertThrows(
                        Settings.Unusable.class, () -> read(file.replace("receive = \"near\"", "receive = \"far\"")))
                .getMessage()
                .contains("databases.harbour.receive names far, which is none of [stores]"));
        assertTrue(assertThrows(Settings.Unusable.class, () -> read(good() + "receive = \"near\"\n"))
                .getMessage()
                .contains("databases.sheds.receive is there for postgresql alone"));
    }

    @Test
    void aDatabaseMayHaveAKey() throws Exception {
        Path key = Files.writeString(directory.resolve("quay.key"), "");
        String file = good().replace("[databases.harbour]", "[keys]\nquay = \"" + key + "\"\n[databases.harbour]")
                + "key = \"quay\"\n";
        assertEquals(Optional.of("quay"), read(file).databases().get("sheds").key());
        assertEquals(Optional.empty(), read(file).databases().get("harbour").key());
        assertEquals(key, read(file).keys().get("quay"));
        for (String[] wrong : new String[][] {
            {"key = \"quay\"", "key = \"pier\"", "databases.sheds.key names pier, which is none of [keys]"},
            {
                "key = \"quay\"",
                "fulls = \"dump\"",
                "databases.sheds.fulls is \"files\" or \"dump\", and there for mariadb"
            },
            {"key = \"quay\"", "log = 1", "databases.sheds.log is true or false, and there for sqlite alone"},
            {key.toString(), key + "s", "keys.quay " + key + "s is not a file that can be read"},
            {
                "connection = \"service=harbour\"",
                "connection = \"service=harbour\"\nreceive = \"near\"\nkey = \"quay\"",
                "databases.harbour.receive cannot go with a key"
            },
        }) {
            String said = assertThrows(Settings.Unusable.class, () -> read(file.replace(wrong[0], wrong[1])))
                    .getMessage();
            assertTrue(said.contains(wrong[2]), said);
        }
    }

    private String drills() {
        return """
                host = "dock"
                state = "/var/lib/firth/drills"
                stores.near = "%s"
                [drills]
                directory = "%s"
                room = 200_000_000
                from = "22:00"
                to = "05:00"
                zone = "Asia/Kathmandu"
                [drills.queries]
                harbour = [{in = "harbour", ask = "select count(*) from truth"}]
                """.formatted(directory, directory);
    }

    @Test
    void aHostMayDoDrillsAndNothingElse() throws Exception {
        Settings.Drilling drills = read(drills()).drills().orElseThrow();
        assertEquals(200_000_000, drills.room());
        assertEquals("postgres", drills.superuser());
        assertEquals(
                List.of(new Settings.Query("harbour", "select count(*) from truth")),
                drills.queries().get("harbour"));
        Settings.Hours hours = drills.hours().orElseThrow();
        assertEquals(
                List.of(true, true, false, false),
                Stream.of("22:00", "04:59", "05:00", "12:00")
                        .map(t -> hours.hold(OffsetDateTime.parse("2026-11-30T" + t + ":00+05:45")
                                .toInstant()))
                        .toList());
        assertEquals(Optional.empty(), read(good()).drills());
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            room = 200_000_000 | room = "much" | drills.room is not a number of bytes
            room = 200_000_000 | room = 0      | drills.room is not a number of bytes
            from = "22:00"     | from = "10pm" | drills.from is not a time of day
            from = "22:00"     |               | drills.from is missing
            Asia/Kathmandu     | Quay           | drills.zone is not a zone
            directory          | place         | drills.place is not known here
            ask =              | say =         | drills.queries.harbour.say is not known here
            """)
    void whatIsWrongWithDrillsIsNamed(String here, @Nullable String there, String why) {
        String text = drills().replace(here, there == null ? "" : there);
        String said = String.valueOf(
                assertThrows(Settings.Unusable.class, () -> read(text)).getMessage());
        assertTrue(said.contains(why), said);
    }

    static Stream<Arguments> wrong() {
        return Stream.of(
                Arguments.of("host = \"pier\"", "hots = \"pier\"", "hots is not known here"),
                Arguments.of("host = \"pier\"", "", "host is missing"),
                Arguments.of("host = \"pier\"", "host = 7", "host is not a text between quotes"),
                Arguments.of("PT30S", "30 seconds", "every is not a duration such as PT10S"),
                Arguments.of("PT30S", "PT0.5S", "every is not from PT1S to P1D"),
                Arguments.of("every =", "alone = \"P32D\"\nevery =", "alone is not from PT0S to P31D"),
                Arguments.of("every", "firth = \"ftp://quay\"\nevery", "firth is not an address"),
                Arguments.of("near = \"/", "near = \"x/", "stores.near x/"),
                Arguments.of("[stores]", "[shops]", "shops is not known here"),
                Arguments.of(
                        "\"sqlite\"", "\"abacus\"", "databases.sheds.engine is none of postgresql, mariadb and sqlite"),
                Arguments.of("file = \"/srv", "connection = \"/srv", "databases.sheds.file is missing"),
                Arguments.of("[databases.sheds]", "[databases.'a b']", "databases.a b is not an id"));
    }

    @ParameterizedTest
    @MethodSource("wrong")
    void namesTheFileAndTheFieldThatIsWrong(String part, String instead, String said) {
        String text = good().replace(part, instead);
        Settings.Unusable e = assertThrows(Settings.Unusable.class, () -> read(text));
        assertTrue(String.valueOf(e.getMessage()).contains("runner.toml: " + said), e.getMessage());
    }

    @Test
    void namesTheLineThatIsNoToml() {
        Settings.Unusable e = assertThrows(Settings.Unusable.class, () -> read("host = \"pier\"\nstate = somewhere\n"));
        assertTrue(String.valueOf(e.getMessage()).contains("runner.toml, line 2:"), e.getMessage());
    }
}
