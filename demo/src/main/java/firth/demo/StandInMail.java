package firth.demo;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;

/** Stands in for a mail server: takes what is sent to it by SMTP on this machine and lays each mail in a directory, sent to nobody. */
final class StandInMail {

    private final GreenMail server;
    private final Path mails;
    private int kept;

    /** @param tree the mails lie in its {@code mail} */
    StandInMail(int port, Path tree) {
        server = new GreenMail(new ServerSetup(port, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        server.start();
        mails = tree.resolve("mail");
    }

    /** Takes mail at a port for as long as a process lives. */
    public static void main(String[] args) throws IOException, InterruptedException {
        if (args.length != 3) {
            System.err.println("usage: StandInMail PORT TREE PID");
            System.exit(2);
        }
        StandInMail mail = new StandInMail(Integer.parseInt(args[0]), Path.of(args[1]));
        Optional<ProcessHandle> server = ProcessHandle.of(Long.parseLong(args[2]));
        while (server.filter(ProcessHandle::isAlive).isPresent()) {
            mail.keep();
            Thread.sleep(500);
        }
        System.exit(0);
    }

    int port() {
        return server.getSmtp().getPort();
    }

    /** Lays what came since. */
    void keep() throws IOException {
        MimeMessage[] all = server.getReceivedMessages();
        for (; kept < all.length; kept++) {
            Files.createDirectories(mails);
            Path file = mails.resolve(System.currentTimeMillis() + "-" + kept + ".eml");
            try (OutputStream to = Files.newOutputStream(file)) {
                all[kept].writeTo(to);
            } catch (MessagingException e) {
                throw new IOException("a mail could not be kept in " + file, e);
            }
        }
    }

    void stop() {
        server.stop();
    }
}
