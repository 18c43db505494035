package firth.server.sending;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import firth.server.DemoFleet;
import io.quarkus.test.common.QuarkusTestResourceLifecycleManager;
import io.quarkus.test.junit.QuarkusTestProfile;
import java.util.List;
import java.util.Map;

/** A server over the demo fleet that sends to a mail server of the test's own. */
public class Posted implements QuarkusTestProfile {

    @Override
    public List<TestResourceEntry> testResources() {
        return List.of(new TestResourceEntry(DemoFleet.class), new TestResourceEntry(MailServer.class));
    }

    /** Takes mails by SMTP and keeps them. */
    public static class MailServer implements QuarkusTestResourceLifecycleManager {

        static GreenMail mails;

        @Override
        public Map<String, String> start() {
            mails = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
            mails.start();
            return Map.of(
                    "firth.mail.host", "127.0.0.1",
                    "firth.mail.port", "" + mails.getSmtp().getPort(),
                    "firth.mail.from", "firth@saltmarsh.example");
        }

        @Override
        public void stop() {
            mails.stop();
        }
    }
}
