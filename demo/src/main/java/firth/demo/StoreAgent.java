package firth.demo;

import firth.agent.Agent;
import firth.agent.Storage;
import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;

/** The agent of a store of the demo: as anywhere, on hollow files whose locks stand in a list beside them. */
public final class StoreAgent {

    private StoreAgent() {}

    /** The files of a store, as an agent gets at them; they lie below {@code files} of its directory. */
    public static Storage files(Path home) throws IOException {
        return new HollowStore(home);
    }

    /** An agent that works on them, or on what behaves otherwise. */
    public static Agent of(URI address, Path home, Storage storage, Duration every) throws IOException {
        String store = home.getFileName().toString();
        return new Agent(
                new FirthLink(address, Token.ofAgent(address, home, store)),
                store,
                storage,
                home.resolve("agent"),
                every,
                Clock.systemUTC(),
                what -> System.err.println("agent at " + store + ": " + what));
    }
}
