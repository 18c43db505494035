package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.servers.RealPostgres;
import firth.servers.Workplace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.Test;

/**
 * From an archive nobody told of to a restore that is entered: a real PostgreSQL's files are read, a segment is lost, a stocktake finds it,
 * the gap has its cause, and the plan's script brings back what was there before it.
 */
class ObserveIT extends InBrowser {

    private Workplace work;
    private Path store;
    private Observed observed;
    private String rows;
    private Instant before;

    @Override
    Firth begin() throws IOException, InterruptedException {
        work = new Workplace();
        store = work.directory("store");
        Path archive = work.directory("store/archive");
        work.directory("store/base");
        observed = new Observed(store);
        observed.enrolStore();
        try (RealPostgres server = RealPostgres.fresh(work, "data", archive)) {
            server.query("create table truth(n serial primary key, pad text)");
            server.backUp(store.resolve("base/monday"), "-X", "none");
            row(server);
            rows = server.query("select n from truth order by n");
            before = Instant.now();
            Thread.sleep(50);
            for (int i = 0; i < 3; i++) {
                row(server);
                server.switchLog();
            }
            server.stop();
        }
        // What landed just now is left out of a stocktake.
        try (Stream<Path> all = Files.walk(store)) {
            for (Path p : (Iterable<Path>) all::iterator) {
                Files.setLastModifiedTime(p, FileTime.from(before.minus(Duration.ofHours(1))));
            }
        }
        return observed.firth();
    }

    private static void row(RealPostgres server) {
        server.query("insert into truth(pad) select string_agg(md5(random()::text), '') from generate_series(1, 900)");
    }

    @AfterAll
    void tidy() {
        work.close();
    }

    /** What lies in the store, as whoever looks after it would list it. */
    private Path listing() throws IOException {
        StringBuilder out = new StringBuilder("path,size\n");
        try (Stream<Path> all = Files.walk(store)) {
            for (Path p : (Iterable<Path>) all.filter(Files::isRegularFile)::iterator) {
                out.append(store.relativize(p))
                        .append(',')
                        .append(Files.size(p))
                        .append('\n');
            }
        }
        Path file = work.path("listing.csv");
        Files.writeString(file, out);
        return file;
    }

    /** Once the listing before is done with. */
    private void handIn(Path listing) {
        browser.until(() -> browser.all("input[aria-label='Listing']:enabled").isEmpty() ? null : true);
        browser.choose("input[aria-label='Listing']", listing);
    }

    @Test
    void fromAnArchiveToARestoreThatIsEntered() throws Exception {
        observed.look("--check");
        browser.open(firth.address("/databases/harbour"));
        browser.seeText("h1", "harbour");
        String full = observed.plan(before).path("ways").path(0).path("tip").asText();
        browser.open(firth.address("/history/" + full));
        browser.seeText("main", "checked by firth observe");
        browser.seeText("main", "In the logs of lineage 1");

        browser.open(firth.address("/stores?store=n1"));
        browser.see("[data-testid='stock']");
        handIn(listing());
        browser.seeText("[data-testid='stock']", "copies agree");
        assertTrue(browser.see("[data-testid='stock']").getText().contains("copies agree"));
        assertEquals(List.of(), browser.all("[data-testid='stock'] b"), "its members and companions are no strays");

        try (Stream<Path> all = Files.list(store.resolve("archive"))) {
            List<Path> segments = all.filter(p -> p.getFileName().toString().matches("[0-9A-F]{24}"))
                    .sorted()
                    .toList();
            Files.delete(segments.get(segments.size() - 2));
        }
        handIn(listing());
        browser.seeText("[data-testid='stock'] b", "1 ");
        browser.open(firth.address("/gaps"));
        browser.see("[data-gap='harbour']");
        browser.seeText("main", "spoiled");

        browser.open(firth.address("/restore?database=harbour&moment=" + before));
        browser.seeText("[data-testid='staircase']", "checked");
        String script = observed.script(before);
        assertTrue(browser.seeText("aside a", "Script").getDomProperty("href").contains("/checklist.sh?"));
        Path file = work.path("restore.sh");
        Files.writeString(file, script);
        Path data = work.path("restored");
        work.run(Map.of("STORE_1", store.toString()), "sh", file.toString(), data.toString());
        try (RealPostgres server = RealPostgres.over(work, data)) {
            server.set("track_commit_timestamp = on");
            server.start();
            assertEquals(rows, server.query("select n from truth order by n"));
        }

        browser.seeText("aside button", "Begin the restore").click();
        browser.seeText("h1", "harbour as harbour-");
        browser.seeText("main button", "Enter how it ended").click();
        browser.see("form[aria-label='How it ended']");
        browser.seeText("form button", "Enter it").click();
        browser.seeText("[data-testid='restore-progress']", "Done");
    }
}
