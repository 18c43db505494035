package firth.demo;

import firth.agent.Directory;
import firth.agent.Intents;
import firth.agent.Lock;
import firth.agent.Storage;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Properties;
import java.util.function.Consumer;

/** A store of the demo as its agent gets at it: real files, which are hollow, in room that is made up. */
final class HollowStore implements Storage {

    private final Path home;
    private final Storage files;

    /** @param home the store's directory: its files lie below {@code files} */
    HollowStore(Path home) throws IOException {
        FilesOfStore own = new FilesOfStore(home);
        Files.createDirectories(own.root());
        this.home = home;
        this.files = new Directory(own.root(), home.resolve("sums"), own, Directory.Limits.NONE, Clock.systemUTC());
    }

    @Override
    public void list(boolean sums, Consumer<Entry> to) throws IOException, InterruptedException {
        files.list(sums, to);
    }

    @Override
    public Outcome delete(Doomed what, Intents intents) throws IOException, InterruptedException {
        return files.delete(what, intents);
    }

    @Override
    public void recover(Intents intents) throws IOException {
        files.recover(intents);
    }

    /** What the made-up store says it has, where it says anything. */
    @Override
    public Room room() throws IOException {
        Room real = files.room();
        Properties about = Harbour.read(home.resolve(SimulatedStore.ABOUT));
        String capacity = about.getProperty("capacityBytes");
        return new Room(
                capacity == null ? real.freeBytes() : (long) Double.parseDouble(about.getProperty("freeBytes")),
                capacity == null ? real.capacityBytes() : (long) Double.parseDouble(capacity),
                real.writable(),
                Lock.Manner.UNTIL,
                real.trouble());
    }

    @Override
    public void lay(String name, String content) throws IOException {
        files.lay(name, content);
    }
}
