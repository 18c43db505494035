package firth.runner;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Asks a PostgreSQL server through its own client.
 *
 * @param connection a connection string, without a password: that stays in the engine's own files
 * @param programs where the engine's programs lie; empty: where they are installed
 */
record Psql(String connection, Optional<Path> programs) {

    /** The moment by the server's clock. */
    static final String CLOCK = "to_char(clock_timestamp() at time zone 'UTC', 'YYYY-MM-DD\"T\"HH24:MI:SS.MS\"Z\"')";

    String program(String name) {
        return Program.ofPostgresql(programs, name);
    }

    /** The cells of the one row each of some questions gives, asked one after the other. */
    List<String> row(String... questions) throws Trouble, InterruptedException {
        return List.of(Program.run(command(questions), s -> {}).strip().split("[|\n]", -1));
    }

    /** The rows a question gives, a line each, but for empty ones. */
    List<String> lines(String question) throws Trouble, InterruptedException {
        List<String> out = new ArrayList<>();
        Program.run(command(question), line -> {
            if (!line.isBlank()) {
                out.add(line);
            }
        });
        return out;
    }

    private List<String> command(String... questions) {
        List<String> out =
                new ArrayList<>(List.of(program("psql"), "-XqAt", "-w", "-v", "ON_ERROR_STOP=1", "-d", connection));
        for (String sql : questions) {
            out.addAll(List.of("-c", sql));
        }
        return out;
    }

    /** Whether a cell says so. */
    static boolean holds(List<String> row, int cell) {
        return row.get(cell).equals("t");
    }
}
