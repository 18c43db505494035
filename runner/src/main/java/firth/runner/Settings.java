package firth.runner;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.dataformat.toml.TomlMapper;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.TreeMap;

/**
 * What a runner is told in its file (docs/runner.md).
 *
 * @param host as databases are enrolled with it
 * @param state a directory of its own
 * @param every how often it asks
 * @param alone for how long it goes on by itself once Firth does not answer
 * @param stores where the stores of this host lie, by id
 * @param keys the files of the keys that copies are encrypted with, by name
 * @param databases how those it works for are reached, by id; may be none where there are drills
 * @param drills where and when it restores to prove something, where it does
 */
public record Settings(
        String host,
        URI firth,
        Optional<Path> tokenFile,
        Path state,
        Duration every,
        Duration alone,
        Map<String, Path> stores,
        Map<String, Path> keys,
        Map<String, Reached> databases,
        Optional<Drilling> drills) {

    private static final String ID = "[A-Za-z0-9][A-Za-z0-9._:-]*";

    /**
     * How a database is reached.
     *
     * @param at what its engine's own programs take to find it: a connection string of PostgreSQL, an option file of
     *     MariaDB, a file of SQLite
     * @param programs where the engine's programs lie; empty: where they are installed
     * @param receive the store into which its log is received as it is written; empty: it is taken when it is due
     * @param dumps whether fulls of a MariaDB are dumps
     * @param log whether the write-ahead log of a SQLite is kept and copied
     * @param key the name of the key that all of its backups are encrypted with; empty: none is
     */
    public record Reached(
            String engine,
            String at,
            Optional<Path> programs,
            Optional<String> receive,
            boolean dumps,
            boolean log,
            Optional<String> key) {}

    /**
     * How a host does drills.
     *
     * @param directory where databases are restored to, one after the other; what a drill leaves there is removed
     * @param room the most one may take, in bytes
     * @param rate the most it may read from the stores, in bytes a second; empty: as fast as they give
     * @param hours when one may begin; empty: always
     * @param superuser of PostgreSQL, as whom the restored server is asked
     * @param programs where the programs of an engine lie, by the engine's name; those that are not named: where they are installed
     * @param queries what the owners of databases want asked of them, by database
     */
    public record Drilling(
            Path directory,
            long room,
            OptionalLong rate,
            Optional<Hours> hours,
            String superuser,
            Map<String, Path> programs,
            Map<String, List<Query>> queries) {}

    /** From a time of day to another, which may be of the next day. */
    public record Hours(LocalTime from, LocalTime to, ZoneId zone) {

        public boolean hold(Instant moment) {
            LocalTime at = LocalTime.ofInstant(moment, zone);
            return from.isBefore(to) ? !at.isBefore(from) && at.isBefore(to) : !at.isBefore(from) || at.isBefore(to);
        }

        @Override
        public String toString() {
            return from + " to " + to + " in " + zone;
        }
    }

    /**
     * A statement whose first value has to be something: neither none nor empty, false or 0.
     *
     * @param in the database of the server; empty: the engine's own
     */
    public record Query(String in, String sql) {}

    /** The file is not one a runner can work by; the message names the line or the field, and what to do. */
    public static final class Unusable extends Exception {
        private static final long serialVersionUID = 1;

        Unusable(String why) {
            super(why);
        }
    }

    public static Settings of(Path file) throws IOException, Unusable {
        JsonNode all;
        try {
            all = new TomlMapper().readTree(Files.readString(file));
        } catch (JsonProcessingException e) {
            throw new Unusable(file + ", line "
                    + (e.getLocation() == null ? "unknown" : e.getLocation().getLineNr()) + ": "
                    + e.getOriginalMessage());
        }
        return new Reading(file, all).settings();
    }

    /** Says of each field that is missing or wrong what it should be. */
    private record Reading(Path file, JsonNode all) {

        Settings settings() throws Unusable {
            known(
                    all,
                    "",
                    List.of(
                            "host",
                            "firth",
                            "token-file",
                            "state",
                            "every",
                            "alone",
                            "stores",
                            "keys",
                            "databases",
                            "drills"));
            Map<String, Path> stores = new TreeMap<>();
            for (String id : names("stores")) {
                stores.put(id, directory("stores." + id, all.path("stores").path(id)));
            }
            Map<String, Path> keys = new TreeMap<>();
            for (String id : all.has("keys") ? names("keys") : List.<String>of()) {
                keys.put(id, file("keys." + id, all.path("keys").path(id)));
            }
            Map<String, Reached> databases = new TreeMap<>();
            boolean drills = all.has("drills");
            for (String id : drills && !all.has("databases") ? List.<String>of() : names("databases")) {
                databases.put(id, reached(id, all.path("databases").path(id), stores.keySet(), keys.keySet()));
            }
            return new Settings(
                    text("host", all.path("host")),
                    address(),
                    all.has("token-file")
                            ? Optional.of(Path.of(text("token-file", all.path("token-file"))))
                            : Optional.empty(),
                    Path.of(text("state", all.path("state"))),
                    within("every", "PT10S", "PT1S", "P1D"),
                    within("alone", "P2D", "PT0S", "P31D"),
                    stores,
                    keys,
                    databases,
                    drills ? Optional.of(drilling(all.path("drills"))) : Optional.empty());
        }

        private Drilling drilling(JsonNode drills) throws Unusable {
            known(
                    drills,
                    "drills.",
                    List.of("directory", "room", "rate", "from", "to", "zone", "superuser", "programs", "queries"));
            Map<String, Path> programs = new TreeMap<>();
            known(drills.path("programs"), "drills.programs.", List.of("postgresql", "mariadb"));
            for (Map.Entry<String, JsonNode> each : drills.path("programs").properties()) {
                programs.put(each.getKey(), directory("drills.programs." + each.getKey(), each.getValue()));
            }
            Map<String, List<Query>> queries = new TreeMap<>();
            for (Map.Entry<String, JsonNode> each : drills.path("queries").properties()) {
                queries.put(each.getKey(), queries("drills.queries." + each.getKey(), each.getValue()));
            }
            return new Drilling(
                    directory("drills.directory", drills.path("directory")),
                    bytes("drills.room", drills.path("room")).orElse(Long.MAX_VALUE),
                    bytes("drills.rate", drills.path("rate")),
                    hours(drills),
                    drills.has("superuser") ? text("drills.superuser", drills.path("superuser")) : "postgres",
                    programs,
                    queries);
        }

        private OptionalLong bytes(String field, JsonNode value) throws Unusable {
            if (value.isMissingNode()) {
                return OptionalLong.empty();
            }
            if (!value.isIntegralNumber() || value.asLong() <= 0) {
                throw wrong(field, "is not a number of bytes such as 200_000_000_000");
            }
            return OptionalLong.of(value.asLong());
        }

        private Optional<Hours> hours(JsonNode drills) throws Unusable {
            if (!drills.has("from") && !drills.has("to")) {
                return Optional.empty();
            }
            return Optional.of(new Hours(
                    timeOfDay("drills.from", drills.path("from")),
                    timeOfDay("drills.to", drills.path("to")),
                    zone(drills)));
        }

        private ZoneId zone(JsonNode drills) throws Unusable {
            String name = drills.has("zone") ? text("drills.zone", drills.path("zone")) : "UTC";
            try {
                return ZoneId.of(name);
            } catch (DateTimeException e) {
                throw wrong("drills.zone", "is not a zone such as \"Europe/London\"");
            }
        }

        private LocalTime timeOfDay(String field, JsonNode value) throws Unusable {
            try {
                return LocalTime.parse(text(field, value));
            } catch (DateTimeException e) {
                throw wrong(field, "is not a time of day such as \"22:00\"");
            }
        }

        private List<Query> queries(String field, JsonNode list) throws Unusable {
            if (!list.isArray() || list.isEmpty()) {
                throw wrong(field, "is not a list: write [{in = \"harbour\", ask = \"select ...\"}]");
            }
            List<Query> out = new ArrayList<>();
            for (JsonNode each : list) {
                known(each, field + ".", List.of("in", "ask"));
                String in = each.has("in") ? text(field + ".in", each.path("in")) : "";
                out.add(new Query(in, text(field + ".ask", each.path("ask"))));
            }
            return out;
        }

        private Reached reached(String id, JsonNode database, Set<String> stores, Set<String> keys) throws Unusable {
            String field = "databases." + id;
            known(
                    database,
                    field + ".",
                    List.of(
                            "engine",
                            "connection",
                            "option-file",
                            "file",
                            "programs",
                            "receive",
                            "fulls",
                            "log",
                            "key"));
            String engine = text(field + ".engine", database.path("engine"));
            String where = switch (engine) {
                case "postgresql" -> "connection";
                case "mariadb" -> "option-file";
                case "sqlite" -> "file";
                default -> throw wrong(field + ".engine", "is none of postgresql, mariadb and sqlite");
            };
            return new Reached(
                    engine,
                    text(field + "." + where, database.path(where)),
                    database.has("programs")
                            ? Optional.of(directory(field + ".programs", database.path("programs")))
                            : Optional.empty(),
                    database.has("receive")
                            ? Optional.of(receive(field + ".receive", engine, database, stores))
                            : Optional.empty(),
                    dumps(field + ".fulls", engine, database.path("fulls")),
                    log(field + ".log", engine, database.path("log")),
                    database.has("key")
                            ? Optional.of(oneOf(field + ".key", database.path("key"), "keys", keys))
                            : Optional.empty());
        }

        private String receive(String field, String engine, JsonNode database, Set<String> stores) throws Unusable {
            if (!engine.equals("postgresql")) {
                throw wrong(field, "is there for postgresql alone: the others hand out no log while it is written");
            }
            if (database.has("key")) {
                throw wrong(field, "cannot go with a key: what is received is written as it comes. Archive it instead");
            }
            return oneOf(field, database.path("receive"), "stores", stores);
        }

        private boolean dumps(String field, String engine, JsonNode value) throws Unusable {
            boolean known = List.of("files", "dump").contains(value.asText());
            if (!value.isMissingNode() && !(known && engine.equals("mariadb"))) {
                throw wrong(field, "is \"files\" or \"dump\", and there for mariadb alone");
            }
            return value.asText().equals("dump");
        }

        private boolean log(String field, String engine, JsonNode value) throws Unusable {
            if (!value.isMissingNode() && (!value.isBoolean() || !engine.equals("sqlite"))) {
                throw wrong(field, "is true or false, and there for sqlite alone");
            }
            return value.asBoolean(false);
        }

        private String oneOf(String field, JsonNode value, String table, Set<String> names) throws Unusable {
            String name = text(field, value);
            if (!names.contains(name)) {
                throw wrong(field, "names " + name + ", which is none of [" + table + "]");
            }
            return name;
        }

        private Path file(String field, JsonNode value) throws Unusable {
            Path path = Path.of(text(field, value));
            if (!path.isAbsolute() || !Files.isReadable(path)) {
                throw wrong(field, path + " is not a file that can be read, named from the root");
            }
            return path;
        }

        private List<String> names(String table) throws Unusable {
            if (all.has(table) && !all.path(table).isObject()) {
                throw wrong(table, "is not a table: write [" + table + "]");
            }
            List<String> out = new ArrayList<>();
            all.path(table).fieldNames().forEachRemaining(out::add);
            for (String id : out) {
                if (!id.matches(ID)) {
                    throw wrong(table + "." + id, "is not an id");
                }
            }
            if (out.isEmpty()) {
                throw wrong(table, "names none: write [" + table + "] and one below it");
            }
            return out;
        }

        private void known(JsonNode table, String within, List<String> fields) throws Unusable {
            List<String> there = new ArrayList<>();
            table.fieldNames().forEachRemaining(there::add);
            for (String field : there) {
                if (!fields.contains(field)) {
                    throw wrong(within + field, "is not known here; known are " + String.join(", ", fields));
                }
            }
        }

        private String text(String field, JsonNode value) throws Unusable {
            if (!value.isTextual() || value.asText().isBlank()) {
                throw wrong(field, value.isMissingNode() ? "is missing" : "is not a text between quotes");
            }
            return value.asText();
        }

        private Path directory(String field, JsonNode value) throws Unusable {
            Path path = Path.of(text(field, value));
            if (!path.isAbsolute() || !Files.isDirectory(path)) {
                throw wrong(field, path + " is not a directory, named from the root");
            }
            return path;
        }

        private URI address() throws Unusable {
            String text = all.path("firth").asText("http://127.0.0.1:8640");
            try {
                URI uri = URI.create(text);
                if (uri.getHost() != null && List.of("http", "https").contains(uri.getScheme())) {
                    return uri;
                }
            } catch (IllegalArgumentException e) {
                throw wrong("firth", "is not an address: " + e.getMessage());
            }
            throw wrong("firth", "is not an address such as http://127.0.0.1:8640");
        }

        private Duration within(String field, String usual, String least, String most) throws Unusable {
            try {
                Duration out = Duration.parse(all.path(field).asText(usual));
                if (out.compareTo(Duration.parse(least)) >= 0 && out.compareTo(Duration.parse(most)) <= 0) {
                    return out;
                }
            } catch (DateTimeException e) {
                throw wrong(field, "is not a duration such as " + usual);
            }
            throw wrong(field, "is not from " + least + " to " + most);
        }

        private Unusable wrong(String field, String why) {
            return new Unusable(file + ": " + field + " " + why + ".");
        }
    }
}
