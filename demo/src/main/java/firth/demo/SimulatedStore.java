package firth.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Properties;

/** A store of the demo: a directory that takes files as long as its owner's quota allows. */
final class SimulatedStore {

    static final String ABOUT = "store.properties";
    static final String QUOTAS = "quotas.properties";

    private final Path home;

    SimulatedStore(Path home) {
        this.home = home;
    }

    boolean isThere() {
        return Files.exists(home.resolve(ABOUT));
    }

    /** The machine it runs on. */
    String host() throws IOException {
        return Harbour.read(home.resolve(ABOUT)).getProperty("host");
    }

    /** Room for a database: what its quota leaves, without one what the store has. */
    double freeBytes(String database) throws IOException {
        Properties quotas = Harbour.read(home.resolve(QUOTAS));
        double free = Double.parseDouble(Harbour.read(home.resolve(ABOUT)).getProperty("freeBytes"));
        return Double.parseDouble(quotas.getProperty(database, String.valueOf(free)));
    }

    /**
     * Takes a file.
     *
     * @throws IOException where it refuses; the message says why
     */
    Path write(String database, String name, byte[] content) throws IOException {
        if (freeBytes(database) < content.length) {
            throw new IOException("quota of " + database + " used up");
        }
        Path directory = Files.createDirectories(home.resolve(database));
        return Files.write(directory.resolve(name), content);
    }
}
