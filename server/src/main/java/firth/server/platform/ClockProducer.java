package firth.server.platform;

import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.inject.Produces;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Optional;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** The one clock of the server, so that tests can set it and trials can move it. */
class ClockProducer {

    /** @param ahead a file that says by how much the clock of a trial is ahead; absent: the machine's clock */
    @Produces
    @ApplicationScoped
    Clock clock(@ConfigProperty(name = "firth.clock.ahead") Optional<Path> ahead) {
        return ahead.<Clock>map(MovedClock::new).orElseGet(Clock::systemUTC);
    }
}
