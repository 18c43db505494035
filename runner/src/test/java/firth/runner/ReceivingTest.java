package firth.runner;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.engines.Observer;
import firth.engines.postgres.PostgresFiles;
import firth.exchange.Json;
import firth.servers.RealPostgres;
import firth.servers.Workplace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.InstantSource;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The log of a real server, received as it is written. */
class ReceivingTest {

    private static final Duration PATIENCE = Duration.ofSeconds(30);

    private Workplace work;
    private RealPostgres server;
    private Path state;
    private StoreDirectory near;
    private StoreDirectory far;
    private Clock clock = Clock.systemUTC();
    private final List<String> said = new ArrayList<>();
    private final List<Receiving> begun = new ArrayList<>();

    @BeforeEach
    void begin() throws IOException {
        work = new Workplace("Asia/Kathmandu");
        server = RealPostgres.fresh(work, "data", work.directory("unused"));
        server.set("archive_mode = off");
        server.set("max_wal_size = 2MB");
        server.set("min_wal_size = 2MB");
        server.close();
        server.start();
        server.query("create table truth(n serial, at timestamptz default clock_timestamp())");
        server.query("create role firth_backup login replication");
        server.query("grant pg_monitor to firth_backup");
        server.query("grant execute on function pg_switch_wal() to firth_backup");
        state = work.directory("state");
        near = new StoreDirectory("near", work.directory("near"));
        far = new StoreDirectory("far", work.directory("far"));
    }

    @AfterEach
    void end() throws InterruptedException {
        for (Receiving each : begun) {
            each.end();
        }
        server.close();
        work.close();
    }

    private PostgresInstance instance() {
        return new PostgresInstance(
                server.connection("firth_backup"), Optional.empty(), Optional.of(PostgresSlot.of("Harbour-1")));
    }

    private Shelves shelves() {
        return new Shelves(
                "harbour",
                () -> new Observer(List.of(new PostgresFiles())),
                List.of(near, far),
                Optional.of("near"),
                state,
                clock,
                said::add);
    }

    /** A program that is started anew. */
    private Receiving receiving() {
        Receiving out = new Receiving(
                "harbour",
                instance().slot().orElseThrow(),
                near,
                shelves(),
                new Outbox(state, said::add),
                state,
                clock,
                said::add);
        begun.add(out);
        return out;
    }

    /** The logs that were told, each as it was told last, in the order of their positions. */
    private List<ObjectNode> logs() throws IOException {
        List<ObjectNode> out = new ArrayList<>();
        for (String line : shelves().told()) {
            ObjectNode backup = (ObjectNode) Json.MAPPER.readTree(line);
            if (backup.path("kind").asText().equals("log")) {
                out.add(backup);
            }
        }
        out.sort((a, b) -> Long.compare(a.path("to").asLong(), b.path("to").asLong()));
        return out;
    }

    private ObjectNode last() throws IOException {
        List<ObjectNode> all = logs();
        return all.get(all.size() - 1);
    }

    private Instant now() {
        return Instant.parse(server.query(
                        "select to_char(clock_timestamp() at time zone 'UTC', 'YYYY-MM-DD\"T\"HH24:MI:SS.US\"Z\"')")
                .strip());
    }

    private void until(String what, Receiving receiving, BooleanSupplier comes) throws InterruptedException {
        Instant deadline = Instant.now().plus(PATIENCE);
        while (!comes.getAsBoolean()) {
            assertTrue(Instant.now().isBefore(deadline), () -> what + " does not come: " + said);
            Thread.sleep(50);
            receiving.keepOn();
        }
    }

    private boolean reaches(Instant moment) {
        try {
            return !logs().isEmpty()
                    && !Instant.parse(last().path("toTime").asText()).isBefore(moment);
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    @Test
    void whatIsCommittedIsThereSecondsLaterThoughNothingIsArchived() throws Exception {
        Receiving receiving = receiving();
        for (int n = 0; n < 3; n++) {
            server.query("insert into truth default values");
            Instant committed = now();
            until("the commit", receiving, () -> reaches(committed));
        }
        ObjectNode open = last();
        assertFalse(open.path("sealed").asBoolean(true), "it is still being written");
        assertTrue(open.path("streamed").asBoolean());
        assertEquals("PT1S", open.path("lag").asText());
        JsonNode copy = open.path("copies").path(0);
        assertEquals("near", copy.path("store").asText());
        assertTrue(copy.path("path").asText().endsWith(".partial"), copy.toString());
        assertEquals(
                Instant.parse(open.path("toTime").asText()).plusSeconds(1),
                Instant.parse(copy.path("landed").asText()));

        Instant idle = now();
        until("a moment at which nothing was committed", receiving, () -> reaches(idle));
        assertEquals(open.path("id"), last().path("id"));
        assertEquals(List.of(), said);
    }

    @Test
    void aSegmentThatBecomesWholeIsTheSameLogAndIsOfTheRunThatEndedIt() throws Exception {
        Receiving receiving = receiving();
        server.query("insert into truth default values");
        Instant committed = now();
        until("the commit", receiving, () -> reaches(committed));
        String id = last().path("id").asText();
        StoreDirectory to = far;
        assertFalse(
                shelves().copyTo(to, new Throttle(java.util.OptionalDouble::empty)),
                "what is not whole is not copied on");

        assertTrue(instance()
                .endLog(new Archive(near.archive("harbour"), near.aside("log"), near.aside("log"), Laying.PLAIN))
                .isPresent());
        Shelves.Found found = shelves().look("run-1", Optional.empty(), f -> {});
        ObjectNode whole = found.brought().get(0);
        assertEquals(id, whole.path("id").asText());
        assertEquals("run-1", whole.path("run").asText());
        assertTrue(whole.path("streamed").asBoolean());
        assertFalse(whole.has("sealed"));
        assertFalse(whole.path("copies").path(0).path("path").asText().endsWith(".partial"));
        assertTrue(shelves().copyTo(to, new Throttle(java.util.OptionalDouble::empty)));
    }

    @Test
    void aLogThatGrowsByNoCommitTakesNothingBackOfWhatWasToldOfIt() throws Exception {
        Receiving receiving = receiving();
        server.query("insert into truth default values");
        Instant idle = now().plusSeconds(2);
        until("a moment at which nothing was committed", receiving, () -> reaches(idle));
        ObjectNode before = last();
        String told = before.path("toTime").asText();
        server.query("select pg_logical_emit_message(false, 'firth', 'no commit')");
        // Nothing is known of the server now: it may be behind, or too busy to answer.
        Instant deadline = Instant.now().plus(PATIENCE);
        while (last().path("to").asLong() == before.path("to").asLong()) {
            assertTrue(Instant.now().isBefore(deadline), "it does not grow: " + said);
            shelves().look("", Optional.empty(), found -> {});
        }
        assertEquals(told, last().path("toTime").asText());
        assertTrue(last().path("streamed").asBoolean());
    }

    @Test
    void aProgramThatEndedIsStartedAgainAndOneThatOutlivedItsRunnerIsEnded() throws Exception {
        Receiving receiving = receiving();
        until("somebody receives", receiving, () -> !sender().isEmpty());
        String first = sender();
        // Its runner was killed, and it goes on.
        Receiving next = receiving();
        next.keepOn();
        until("another receives", next, () -> !sender().isEmpty() && !sender().equals(first));
        server.query("select pg_terminate_backend(active_pid) from pg_replication_slots");
        server.query("insert into truth default values");
        Instant committed = now();
        // It rests for a while before it tries again.
        clock = Clock.offset(Clock.systemUTC(), Duration.ofMinutes(1));
        Receiving third = receiving();
        until("the commit", third, () -> reaches(committed));
    }

    /** A server that was killed may archive a segment later than the next one. */
    @Test
    void whereAnArchiverPutANewerOneWhatLiesBetweenIsReceivedStill() throws Exception {
        Receiving receiving = receiving();
        server.query("insert into truth default values");
        Instant first = now();
        until("the first commit", receiving, () -> reaches(first));
        receiving.end();
        String between = "";
        String newest = "";
        for (int n = 0; n < 3; n++) {
            server.query("insert into truth default values");
            between = newest;
            newest = server.query("select pg_walfile_name(pg_switch_wal())");
        }
        Path archive = near.archive("harbour");
        Files.copy(work.path("data").resolve("pg_wal").resolve(newest), archive.resolve(newest));
        work.handOver(archive);
        Receiving next = receiving();
        server.query("insert into truth default values");
        Instant last = now();
        until("the last commit", next, () -> reaches(last));
        boolean there = false;
        for (Path each : PostgresSlot.archives(archive)) {
            there |= Files.exists(each.resolve(between));
        }
        assertTrue(there, between + " was passed over");
    }

    @Test
    void aSegmentThatWasCutOffAsItWasLaidOutIsBegunAnew() throws Exception {
        String segment = server.query("select pg_walfile_name(pg_current_wal_insert_lsn())");
        Path archive = near.archive("harbour");
        Files.write(archive.resolve(segment + ".partial"), new byte[3 * 8192]);
        work.handOver(archive);
        Receiving receiving = receiving();
        server.query("insert into truth default values");
        Instant committed = now();
        until("the commit", receiving, () -> reaches(committed));
        String whole = server.query("select setting from pg_settings where name = 'wal_segment_size'");
        assertEquals(Long.parseLong(whole), Files.size(archive.resolve(segment + ".partial")));
    }

    @Test
    void whatWasNotReceivedForAWhileCountsFromWhenItWasThere() throws Exception {
        Receiving receiving = receiving();
        server.query("insert into truth default values");
        Instant committed = now();
        until("the commit", receiving, () -> reaches(committed));
        assertTrue(last().path("streamed").asBoolean());
        // As if it had been told two minutes ago and nothing had come since.
        Path told = state.resolve("harbour.backups");
        ObjectNode log = last();
        Instant before = Instant.parse(log.path("toTime").asText()).minusSeconds(120);
        Files.writeString(
                told, Files.readString(told).replace(log.path("toTime").asText(), before.toString()));
        server.query("insert into truth default values");
        Instant after = now();
        until("the next commit", receiving, () -> reaches(after));
        assertFalse(last().path("streamed").asBoolean(), last().toString());
        assertFalse(
                Instant.parse(last().path("copies").path(0).path("landed").asText())
                        .isBefore(committed.minusSeconds(1)),
                last().toString());
    }

    /** Of the server's own process that sends the log. */
    private String sender() {
        return server.query("select active_pid from pg_replication_slots").strip();
    }

    @Test
    void aSlotTheServerLetGoOfIsMadeAnewAndTheLogGoesOnBehindAHole() throws Exception {
        Receiving receiving = receiving();
        receiving.keepOn();
        receiving.end();
        server.set("max_slot_wal_keep_size = 1MB");
        server.reload();
        for (int n = 0; n < 12; n++) {
            server.query("insert into truth select from generate_series(1, 4000)");
            server.query("select pg_switch_wal()");
            server.query("checkpoint");
        }
        assertEquals(
                "lost",
                server.query("select wal_status from pg_replication_slots").strip());
        Receiving next = receiving();
        server.query("insert into truth default values");
        Instant committed = now();
        until("the commit", next, () -> reaches(committed));
        assertEquals(
                "t", server.query("select active from pg_replication_slots").strip());
    }

    @Test
    void whyItDoesNotGoIsSaidOnce() throws Exception {
        server.query("alter role firth_backup noreplication");
        Receiving receiving = receiving();
        receiving.keepOn();
        receiving.keepOn();
        assertTrue(said.get(0).startsWith("the log of harbour is not received: "), said.get(0));
    }

    @Test
    void whyItDoesNotGoIsSaidAlsoWhereEachTryTakesLongerThanTheRestBetweenThem() throws Exception {
        server.query("alter role firth_backup noreplication");
        Iterator<Instant> moments =
                Stream.iterate(Instant.now(), m -> m.plusSeconds(30)).iterator();
        clock = ((InstantSource) moments::next).withZone(ZoneOffset.UTC);
        Receiving receiving = receiving();
        receiving.keepOn();
        receiving.keepOn();
        assertEquals(1, said.size(), said.toString());
    }
}
