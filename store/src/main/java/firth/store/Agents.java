package firth.store;

import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import javax.sql.DataSource;

/** The agents that ask for work: one a store. They are no facts: nothing is judged by them. */
public final class Agents {

    private final DataSource readers;
    private final DataSource writers;

    Agents(DataSource readers, DataSource writers) {
        this.readers = readers;
        this.writers = writers;
    }

    /**
     * An agent.
     *
     * @param heard when it last asked
     * @param every how often it said it would
     */
    public record Agent(String store, Instant heard, Duration every) {

        /** Whether it should have asked three times over since it was heard. */
        public boolean isSilentAt(Instant now) {
            return now.isAfter(heard.plus(every.multipliedBy(3)));
        }
    }

    public Map<String, Agent> all() {
        Map<String, Agent> out = new LinkedHashMap<>();
        Statement.read(
                        readers,
                        "SELECT store, heard, every FROM agent ORDER BY store",
                        row -> new Agent(row.text(), row.moment(), Duration.ofMillis(row.number())),
                        "The agents could not be read")
                .forEach(a -> out.put(a.store(), a));
        return out;
    }

    public void heard(Agent agent) {
        Statement.run(
                writers,
                "INSERT INTO agent VALUES (?, ?, ?) ON CONFLICT (store) DO UPDATE SET heard = excluded.heard, every = excluded.every",
                s -> {
                    s.setString(1, agent.store());
                    s.setLong(2, agent.heard().toEpochMilli());
                    s.setLong(3, agent.every().toMillis());
                },
                "The sign of life could not be noted");
    }
}
