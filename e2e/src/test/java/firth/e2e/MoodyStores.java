package firth.e2e;

import firth.agent.Moody;
import firth.agent.Storage;
import firth.demo.StandInRunner;
import firth.demo.StoreAgent;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;

/**
 * The stand-ins of the demo as a process of its own, with stores whose {@code mood.properties} says how they behave: all of them as
 * {@code firth.demo.StandInRunner} has them, or, given two arguments, the agent of one store.
 */
final class MoodyStores {

    private MoodyStores() {}

    public static void main(String[] args) throws IOException, InterruptedException {
        if (args.length == 2) {
            Path home = Path.of(args[1]);
            StoreAgent.of(URI.create(args[0]), home, moody(home, StoreAgent.files(home)), Duration.ofSeconds(1))
                    .run();
        } else {
            StandInRunner.run(MoodyStores::moody, args);
        }
    }

    private static Storage moody(Path home, Storage files) {
        return new Moody(files, home.resolve("mood.properties"));
    }

    /** What Java needs to run it. */
    static List<String> java() {
        String path = String.join(
                System.getProperty("path.separator"),
                Programs.jar("demo", "all"),
                Programs.jar("agent", "tests"),
                Programs.classes());
        return List.of("-XX:TieredStopAtLevel=1", "-cp", path, MoodyStores.class.getName());
    }
}
