package firth.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
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
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.support.ui.Select;

/**
 * A store that is a directory with base backups of a real PostgreSQL, and its agent as it is started anywhere: it lists what lies there,
 * finds what was changed, and deletes a base backup with all its members; the newer one still restores.
 */
class AgentIT extends InBrowser {

    private Workplace work;
    private Path store;
    private Observed observed;
    private Process agent;
    private String rows;

    @Override
    Firth begin() throws IOException, InterruptedException {
        work = new Workplace();
        store = work.directory("store");
        Path archive = work.directory("store/archive");
        work.directory("store/base");
        observed = new Observed(store);
        observed.enrolStore();
        try (RealPostgres server = RealPostgres.fresh(work, "data", archive)) {
            server.query("create table truth(n serial primary key)");
            server.backUp(store.resolve("base/monday"), "-X", "none");
            server.query("insert into truth default values");
            server.switchLog();
            server.backUp(store.resolve("base/tuesday"), "-X", "none");
            server.query("insert into truth default values");
            rows = server.query("select n from truth order by n");
            server.switchLog();
            server.stop();
        }
        anHourOld();
        observed.look();
        Instant from = Instant.now().minus(Duration.ofDays(1));
        observed.take("{\"type\":\"policy\",\"id\":\"shelf\",\"version\":1,\"effectiveFrom\":\"" + from
                + "\",\"name\":\"Shelf\",\"retain\":[{\"role\":\"near\",\"fulls\":1}],\"purgeApprovals\":0}\n"
                + "{\"type\":\"assignment\",\"id\":\"a1\",\"database\":\"harbour\",\"policy\":\"shelf\",\"from\":\""
                + from + "\"}\n");
        Path token = work.path("token");
        Files.writeString(token, observed.token("n1", "agent"));
        agent = Programs.start(
                Programs.java(
                        "-XX:TieredStopAtLevel=1",
                        "-jar",
                        Programs.jar("cli", "all"),
                        "agent",
                        "--store",
                        "n1",
                        "--root",
                        store.toString(),
                        "--to",
                        observed.firth().address("/"),
                        "--token-file",
                        token.toString(),
                        "--state",
                        work.path("agent").toString(),
                        "--every",
                        "PT1S"),
                work.path("."));
        return observed.firth();
    }

    /** What landed just now is left out of a stocktake. */
    private void anHourOld() throws IOException {
        FileTime then = FileTime.from(Instant.now().minus(Duration.ofHours(1)));
        try (Stream<Path> all = Files.walk(store)) {
            for (Path p : (Iterable<Path>) all::iterator) {
                Files.setLastModifiedTime(p, then);
            }
        }
    }

    @AfterAll
    void tidy() {
        if (agent != null) {
            agent.destroyForcibly();
        }
        work.close();
    }

    private void takeStock(boolean sums) {
        browser.until(() -> browser.all("[data-testid='stock'] button:enabled").stream()
                        .anyMatch(b -> b.getText().equals("Take stock now"))
                ? Boolean.TRUE
                : null);
        if (sums) {
            browser.see("[data-testid='stock'] input[type='checkbox']").click();
        }
        browser.seeText("[data-testid='stock'] button", "Take stock now").click();
    }

    @Test
    void aBaseBackupIsListedAndDeletedWithAllItsMembers() throws Exception {
        browser.open(firth.address("/stores?store=n1"));
        browser.seeText("[data-testid='measured']", "can be written to");
        takeStock(false);
        browser.seeText("[data-testid='stock']", "copies agree");
        assertEquals(List.of(), browser.all("[data-testid='stock'] b"), "its members and companions are no strays");

        Path unknown = Files.writeString(store.resolve("base/left-over.tar"), "nobody knows it");
        takeStock(true);
        browser.seeText("[data-testid='stock'] b", "1 stray");
        Files.delete(unknown);

        browser.open(firth.address("/purge?store=n1"));
        browser.see("[data-testid='purge-lines'] thead input").click();
        browser.seeText("[data-testid='proof']", "Nothing is chosen");
        new Select(browser.seeText("label", "Kind").findElement(By.tagName("select"))).selectByValue("full");
        browser.see("[data-testid='purge-lines'] thead input").click();
        browser.seeText("[data-testid='proof']", "restorable");
        browser.see("form[aria-label='Ask for approval'] input").sendKeys("room", Keys.ENTER);
        browser.seeText("main button, main a", "Carry out").click();
        browser.seeText("[data-testid='purge-state']", "done");
        browser.seeText("[data-testid='purge-tally']", "deleted");
        assertFalse(Files.exists(store.resolve("base/monday")));
        assertTrue(Files.exists(store.resolve("base/tuesday/PG_VERSION")));
        try (Stream<Path> left = Files.list(store.resolve("base"))) {
            assertEquals(
                    List.of("tuesday"),
                    left.map(p -> p.getFileName().toString()).toList());
        }

        Path script = work.path("restore.sh");
        Files.writeString(script, observed.latest());
        Path data = work.path("restored");
        work.run(Map.of("STORE_1", store.toString()), "sh", script.toString(), data.toString());
        try (RealPostgres server = RealPostgres.over(work, data)) {
            server.set("track_commit_timestamp = on");
            server.start();
            assertEquals(rows, server.query("select n from truth order by n"));
        }
    }
}
