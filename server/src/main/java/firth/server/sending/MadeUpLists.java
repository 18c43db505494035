package firth.server.sending;

import firth.server.sending.SendingView.SendList;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.util.List;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** The made-up lists of the demo, where there are none yet and a stand-in takes its mail. */
@ApplicationScoped
class MadeUpLists {

    private final SendLists lists;
    private final MessageDelivery post;
    private final boolean demo;

    MadeUpLists(SendLists lists, MessageDelivery post, @ConfigProperty(name = "firth.demo") boolean demo) {
        this.lists = lists;
        this.post = post;
        this.demo = demo;
    }

    void state(@Observes StartupEvent start) {
        if (demo && post.sendsMail() && lists.all().isEmpty()) {
            lists.put("night-watch", list("Night watch", "watch@saltmarsh.example", "fleet", "", "07:00", ""));
            lists.put(
                    "sailings-owners",
                    list("Owners of Sailings", "owners@saltmarsh.example", "policy", "sailings", "", "weekly"));
        }
    }

    private static SendList list(String name, String mail, String by, String of, String watchAt, String report) {
        return new SendList(
                "",
                name,
                true,
                List.of(mail),
                "",
                "",
                by,
                of,
                "hazard-missed",
                true,
                by.equals("fleet"),
                false,
                "",
                "",
                "Europe/Lisbon",
                watchAt,
                report);
    }
}
