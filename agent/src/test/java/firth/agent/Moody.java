package firth.agent;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Properties;
import java.util.function.Consumer;

/**
 * A store with moods, written in a file of properties: {@code fail=3} (every third item fails), {@code slow=500} (milliseconds an item),
 * {@code lie=yes} (it tells and does not delete), {@code die=10} (the agent's process ends at the tenth item).
 */
public final class Moody implements Storage {

    private final Storage real;
    private final Path mood;
    private int done;

    public Moody(Storage real, Path mood) {
        this.real = real;
        this.mood = mood;
    }

    private Properties mood() throws IOException {
        Properties out = new Properties();
        if (Files.exists(mood)) {
            try (InputStream from = Files.newInputStream(mood)) {
                out.load(from);
            }
        }
        return out;
    }

    private static int number(Properties mood, String what) {
        return Integer.parseInt(mood.getProperty(what, "0"));
    }

    @Override
    public Outcome delete(Doomed what, Intents intents) throws IOException, InterruptedException {
        Properties mood = mood();
        Thread.sleep(number(mood, "slow"));
        done++;
        if (done == number(mood, "die")) {
            Runtime.getRuntime().halt(9);
        }
        if (number(mood, "fail") > 0 && done % number(mood, "fail") == 0) {
            return Outcome.failed("the disk did not answer");
        }
        return mood.containsKey("lie")
                ? new Outcome(Outcome.Word.DELETED, what.bytes(), "")
                : real.delete(what, intents);
    }

    @Override
    public void list(boolean sums, Consumer<Entry> to) throws IOException, InterruptedException {
        real.list(sums, to);
    }

    @Override
    public void recover(Intents intents) throws IOException {
        real.recover(intents);
    }

    @Override
    public Room room() throws IOException {
        return real.room();
    }

    @Override
    public void lay(String name, String content) throws IOException {
        real.lay(name, content);
    }
}
