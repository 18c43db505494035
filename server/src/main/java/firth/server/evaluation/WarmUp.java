package firth.server.evaluation;

import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.util.concurrent.ForkJoinPool;
import org.jboss.logging.Logger;

/** Works out the fleet's answers while the browser is still being opened, so that the first view need not wait. */
@ApplicationScoped
class WarmUp {

    private static final Logger LOG = Logger.getLogger(WarmUp.class);

    void start(@Observes StartupEvent event, Summaries summaries, Lookout lookout) {
        ForkJoinPool.commonPool().execute(() -> {
            try {
                summaries.lookAnew(lookout.view("", ""));
            } catch (RuntimeException e) {
                LOG.warn("The fleet could not be evaluated ahead of the first view", e);
            }
        });
    }
}
