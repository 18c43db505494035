package firth.runner.drills;

import com.fasterxml.jackson.databind.JsonNode;
import firth.engines.Engines;
import firth.exchange.link.FirthLink;
import firth.runner.Settings;
import java.io.IOException;
import java.nio.file.FileStore;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * How Firth says that a database is restored.
 *
 * @param stores where the stores it reads lie here, as its script asks for them
 * @param keys the files of the keys its copies are encrypted with
 * @param bytes what the restored database takes, as far as Firth knows
 */
record Plan(String engine, String script, Map<String, String> stores, List<Path> keys, double bytes) {

    /** A MariaDB is prepared beside its place before it is moved there. */
    private static final int TWICE = 2;

    /**
     * Asks for it.
     *
     * @param moment empty: the latest
     * @throws Untried where there is none this host could carry out
     */
    static Plan of(FirthLink firth, String database, Optional<Instant> moment, Settings settings)
            throws IOException, InterruptedException, Untried {
        String query =
                moment.map(m -> "?moment=" + FirthLink.encoded(m.toString())).orElse("");
        try {
            return of(
                    firth.ask(firth.request(
                            "/api/restore/of/" + FirthLink.encoded(database) + "/checklist.json" + query)),
                    settings);
        } catch (FirthLink.Refused e) {
            throw new Untried("Firth gives no plan: " + e.getMessage());
        }
    }

    /** Of a checklist, as JSON. */
    static Plan of(JsonNode answer, Settings settings) throws Untried {
        JsonNode plan = answer.path("kept").path("plan");
        JsonNode recipe = answer.path("recipe");
        if (!recipe.isObject()) {
            throw new Untried(
                    plan.path("ways").isEmpty()
                            ? "nothing of it can be restored now"
                            : "Firth has no script for it: its copies were never looked at in their store, or its engine is unknown");
        }
        Map<String, String> stores = new TreeMap<>();
        int n = 0;
        for (JsonNode store : recipe.path("stores")) {
            Path here = settings.stores().get(store.asText());
            if (here == null) {
                throw new Untried("its plan reads the store " + store.asText()
                        + ", of which [stores] does not say where it lies");
            }
            stores.put("STORE_" + ++n, here.toString());
        }
        List<Path> keys = new ArrayList<>();
        for (JsonNode key : plan.path("destination").path("keys")) {
            Path here = settings.keys().get(key.asText());
            if (here == null) {
                throw new Untried("its copies are encrypted with " + key.asText()
                        + ", of which [keys] does not say where it lies");
            }
            keys.add(here);
        }
        return new Plan(
                Engines.word(plan.path("engine").asText()),
                recipe.path("script").asText(),
                stores,
                keys,
                plan.path("destination").path("bytes").asDouble(0));
    }

    /** Room it takes while it is restored, in bytes; 0 where that is not known. */
    double needed() {
        return bytes * (engine.equals("mariadb") ? TWICE : 1);
    }

    /**
     * Whether there is room for it, by what the disk has and by what it may take.
     *
     * @param directory on the disk it is restored to
     * @param most bytes it may take by the file of whoever restores it
     */
    void fits(Path directory, long most) throws IOException, Untried {
        double needed = needed();
        FileStore disk = Files.getFileStore(directory);
        List<String> why = new ArrayList<>();
        if (needed > most) {
            why.add("drills.room allows " + most);
        }
        if (needed > disk.getUsableSpace()) {
            why.add(directory + " has " + disk.getUsableSpace() + " free");
        }
        if (!why.isEmpty()) {
            throw new Untried("it takes " + (long) needed + " bytes, and " + String.join(", and ", why));
        }
    }
}
