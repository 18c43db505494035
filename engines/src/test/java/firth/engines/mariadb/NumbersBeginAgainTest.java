package firth.engines.mariadb;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Kind;
import firth.core.model.Lineage;
import firth.engines.Known;
import firth.engines.Looking.Root;
import firth.engines.Observation;
import firth.engines.ObservedBackup;
import firth.engines.ObservedDatabase;
import firth.engines.Observer;
import firth.servers.RealMariadb;
import firth.servers.Workplace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The logs of a real server that was told to forget them: their numbers begin again. */
class NumbersBeginAgainTest {

    private static Workplace work;
    private static Path store;

    @BeforeAll
    static void write() throws InterruptedException {
        work = new Workplace();
        store = work.directory("store");
        work.directory("store/before");
        work.directory("store/after");
        try (RealMariadb server = RealMariadb.fresh(work, "data", new String[] {"--log-bin=binlog", "--server-id=9"})) {
            server.script("make", "create database k; create table k.t(n int primary key auto_increment);");
            rounds(server, 4);
            dump(server, "before.sql");
            server.script("head", "insert into k.t values (); flush binary logs;");
            work.run("sh", "-c", "cp -p " + server.data() + "/binlog.0* " + store.resolve("before"));
            // The engine's clock shows seconds.
            Thread.sleep(1_100);
            server.script("forget", "reset master;");
            rounds(server, 1);
            dump(server, "after.sql");
            server.script("more", "insert into k.t values (); flush binary logs; insert into k.t values ();");
            work.run("sh", "-c", "cp -p " + server.data() + "/binlog.0* " + store.resolve("after"));
        }
    }

    private static void rounds(RealMariadb server, int logs) {
        for (int i = 0; i < logs; i++) {
            server.script("load" + i, "insert into k.t values (); insert into k.t values (); flush binary logs;");
        }
    }

    private static void dump(RealMariadb server, String name) {
        work.run(
                "sh",
                "-c",
                "mariadb-dump --no-defaults --socket=" + server.socketPath()
                        + " -u root --single-transaction --master-data=2 k > " + store.resolve(name));
    }

    @AfterAll
    static void tidy() {
        work.close();
    }

    private static ObservedDatabase look(Known known) throws IOException {
        Observation seen = new Observer(List.of(new MariadbFiles()))
                .observe(List.of(new Root("n1", store.toRealPath())), known, false, p -> {});
        assertEquals(List.of(), seen.unread());
        assertEquals(1, seen.databases().size());
        return seen.databases().get(0);
    }

    private static Map<String, ObservedBackup> byPath(ObservedDatabase of) {
        return of.backups().stream().collect(Collectors.toMap(ObservedBackup::path, Function.identity()));
    }

    @Test
    void whatCameBeforeAndAfterAreHistoriesOfTheirOwn() throws IOException {
        ObservedDatabase seen = look(Known.nothing());
        assertEquals(2, seen.lineages().size(), seen.lineages().toString());
        Lineage after = seen.lineages().get(1);
        assertTrue(after.parent().isEmpty() && after.openedAt().isPresent(), "nothing carries over into it");
        Map<String, ObservedBackup> all = byPath(seen);
        assertEquals(
                all.size(),
                seen.backups().stream().map(ObservedBackup::name).distinct().count());
        all.forEach((path, b) ->
                assertEquals(path.startsWith("before") ? Lineage.FIRST.id() : after.id(), b.lineage(), path));
        assertEquals(
                all.get("before/binlog.000001").positions().orElseThrow().from(),
                all.get("after/binlog.000001").positions().orElseThrow().from(),
                "at the same places");
    }

    /** Without that a dump of before would go on along logs of after, once their numbers have come as far. */
    @Test
    void eachGoesOnAlongItsOwnLogsOnly() throws IOException {
        Map<String, ObservedBackup> all = byPath(look(Known.nothing()));
        for (String part : List.of("before", "after")) {
            ObservedBackup dump = all.get(part + ".sql");
            ObservedBackup log = all.values().stream()
                    .filter(b -> b.kind() == Kind.LOG && b.lineage().equals(dump.lineage()))
                    .filter(b -> b.positions().orElseThrow().from()
                                    <= dump.positions().orElseThrow().to()
                            && dump.positions().orElseThrow().to()
                                    < b.positions().orElseThrow().to())
                    .findFirst()
                    .orElseThrow();
            assertTrue(log.path().startsWith(part), log.path());
        }
    }

    @Test
    void aHistoryKeepsItsNameWhenItsFirstLogsAndThoseBeforeItAreGone() throws IOException {
        Path notes = work.path("notes");
        Known first = Known.nothing();
        Map<String, ObservedBackup> all = byPath(look(first));
        first.keep(notes);
        work.run("mv", store.resolve("before").toString(), work.path("aside").toString());
        Path gone = store.resolve("after/binlog.000001");
        Path aside = work.path("binlog.aside");
        Files.move(gone, aside);
        try {
            Known second = Known.of(notes);
            ObservedDatabase later = look(second);
            assertEquals(2, later.lineages().size(), "what was told of once stays known");
            byPath(later).forEach((path, b) -> {
                if (!path.equals("before.sql")) {
                    assertEquals(all.get(path).name(), b.name());
                    assertEquals(all.get(path).lineage(), b.lineage(), path);
                }
            });
        } finally {
            Files.move(aside, gone);
            work.run(
                    "mv", work.path("aside").toString(), store.resolve("before").toString());
        }
    }

    @Test
    void aServerThatNeverForgotHasOneHistory() throws IOException {
        work.run("mv", store.resolve("after").toString(), work.path("later").toString());
        try {
            assertEquals(List.of(Lineage.FIRST), look(Known.nothing()).lineages());
        } finally {
            work.run("mv", work.path("later").toString(), store.resolve("after").toString());
        }
    }
}
