package firth.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.icegreen.greenmail.util.GreenMailUtil;
import com.icegreen.greenmail.util.ServerSetup;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class StandInMailTest {

    @TempDir
    Path tree;

    private List<Path> mails() throws IOException {
        try (Stream<Path> files = Files.list(tree.resolve("mail"))) {
            return files.toList();
        }
    }

    @Test
    void eachMailIsLaidOnce() throws IOException {
        StandInMail mail = new StandInMail(0, tree);
        try {
            mail.keep();
            assertTrue(Files.notExists(tree.resolve("mail")), "nothing came yet");
            GreenMailUtil.sendTextEmail(
                    "watch@saltmarsh.example",
                    "firth@saltmarsh.example",
                    "morning",
                    "all is well",
                    new ServerSetup(mail.port(), "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
            mail.keep();
            mail.keep();
            assertEquals(1, mails().size());
            assertTrue(Files.readString(mails().get(0)).contains("all is well"));
        } finally {
            mail.stop();
        }
    }
}
