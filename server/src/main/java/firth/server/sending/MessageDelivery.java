package firth.server.sending;

import io.cloudevents.CloudEvent;
import io.cloudevents.core.builder.CloudEventBuilder;
import io.cloudevents.jackson.JsonFormat;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.mail.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.Session;
import jakarta.mail.Transport;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeBodyPart;
import jakarta.mail.internet.MimeMessage;
import jakarta.mail.internet.MimeMultipart;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Base64;
import java.util.Date;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jspecify.annotations.Nullable;

/** Sends mail by SMTP, and events to addresses over HTTP. */
@ApplicationScoped
class MessageDelivery {

    private static final Duration PATIENCE = Duration.ofSeconds(20);

    private final Optional<String> host;
    private final int port;
    private final String from;
    private final Optional<String> user;
    private final Optional<String> password;
    private final boolean startTls;
    private final String address;

    /** Made when the first event leaves: what it takes to speak over TLS would hold up the start. */
    private static final class Http {
        static final HttpClient CLIENT = HttpClient.newBuilder()
                .connectTimeout(PATIENCE)
                .followRedirects(HttpClient.Redirect.NEVER)
                .build();
    }

    MessageDelivery(
            @ConfigProperty(name = "firth.mail.host") Optional<String> host,
            @ConfigProperty(name = "firth.mail.port") int port,
            @ConfigProperty(name = "firth.mail.from") String from,
            @ConfigProperty(name = "firth.mail.user") Optional<String> user,
            @ConfigProperty(name = "firth.mail.password") Optional<String> password,
            @ConfigProperty(name = "firth.mail.starttls") boolean startTls,
            @ConfigProperty(name = "firth.address") String address) {
        this.host = host.filter(h -> !h.isBlank());
        this.port = port;
        this.from = from;
        this.user = user.filter(u -> !u.isBlank());
        this.password = password;
        this.startTls = startTls;
        this.address = address;
    }

    boolean sendsMail() {
        return host.isPresent();
    }

    String from() {
        return from;
    }

    String address() {
        return address;
    }

    /** It could not be sent; the message says why. */
    static final class NotSent extends Exception {
        NotSent(String message, @Nullable Throwable cause) {
            super(message, cause);
        }
    }

    /** A page that goes with a mail. */
    record Attached(String name, String html) {}

    /**
     * Sends a mail with a text and an HTML part.
     *
     * @param id tells it from every other, for those who read it
     */
    void mail(String id, List<String> to, String subject, String text, String html, Optional<Attached> attached)
            throws NotSent {
        if (host.isEmpty()) {
            throw new NotSent("no mail server is configured (firth.mail.host)", null);
        }
        try {
            Session session = Session.getInstance(properties());
            MimeMessage message = new MimeMessage(session) {
                @Override
                protected void updateMessageID() throws MessagingException {
                    setHeader("Message-ID", "<" + id.replaceAll("[^A-Za-z0-9.-]", ".") + "@firth>");
                }
            };
            message.setFrom(new InternetAddress(from));
            message.setRecipients(Message.RecipientType.TO, InternetAddress.parse(String.join(",", to)));
            message.setSubject(subject, "UTF-8");
            message.setSentDate(Date.from(Instant.now()));
            message.setHeader("Auto-Submitted", "auto-generated");
            message.setContent(content(text, html, attached));
            message.saveChanges();
            try (Transport transport = session.getTransport("smtp")) {
                transport.connect(host.get(), port, user.orElse(null), password.orElse(null));
                transport.sendMessage(message, message.getAllRecipients());
            }
        } catch (MessagingException e) {
            throw new NotSent("the mail server " + host.get() + ":" + port + " did not take it: " + e.getMessage(), e);
        }
    }

    private Properties properties() {
        Properties out = new Properties();
        out.put("mail.smtp.connectiontimeout", "" + PATIENCE.toMillis());
        out.put("mail.smtp.timeout", "" + PATIENCE.toMillis());
        out.put("mail.smtp.writetimeout", "" + PATIENCE.toMillis());
        out.put("mail.smtp.starttls.enable", "" + startTls);
        out.put("mail.smtp.starttls.required", "" + startTls);
        out.put("mail.smtp.auth", "" + user.isPresent());
        return out;
    }

    private static MimeMultipart content(String text, String html, Optional<Attached> attached)
            throws MessagingException {
        MimeBodyPart plain = new MimeBodyPart();
        plain.setText(text, "UTF-8");
        MimeBodyPart page = new MimeBodyPart();
        page.setText(html, "UTF-8", "html");
        MimeMultipart both = new MimeMultipart("alternative", plain, page);
        if (attached.isEmpty()) {
            return both;
        }
        MimeBodyPart first = new MimeBodyPart();
        first.setContent(both);
        MimeBodyPart file = new MimeBodyPart();
        file.setText(attached.get().html(), "UTF-8", "html");
        file.setFileName(attached.get().name());
        return new MimeMultipart(first, file);
    }

    /**
     * Sends a CloudEvent in structured mode, signed over its id, the moment and its content.
     *
     * @param secret in base64
     * @param data JSON
     */
    void event(String webhook, String secret, String id, String type, String subject, Instant at, String data)
            throws NotSent {
        CloudEvent event = CloudEventBuilder.v1()
                .withId(id)
                .withSource(URI.create(address))
                .withType(type)
                .withSubject(subject)
                .withTime(at.atOffset(ZoneOffset.UTC))
                .withData("application/json", data.getBytes(StandardCharsets.UTF_8))
                .build();
        byte[] body = new JsonFormat().serialize(event);
        String moment = Long.toString(Instant.now().getEpochSecond());
        try {
            HttpResponse<Void> answer = Http.CLIENT.send(
                    HttpRequest.newBuilder(URI.create(webhook))
                            .timeout(PATIENCE)
                            .header("content-type", JsonFormat.CONTENT_TYPE)
                            .header("webhook-id", id)
                            .header("webhook-timestamp", moment)
                            .header("webhook-signature", "v1," + signature(secret, id + "." + moment + ".", body))
                            .POST(HttpRequest.BodyPublishers.ofByteArray(body))
                            .build(),
                    HttpResponse.BodyHandlers.discarding());
            if (answer.statusCode() / 100 != 2) {
                throw new NotSent(webhook + " answered " + answer.statusCode(), null);
            }
        } catch (IOException e) {
            throw new NotSent(webhook + " did not answer", e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new NotSent("Firth is being stopped", e);
        }
    }

    static String signature(String secret, String before, byte[] body) {
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(Base64.getDecoder().decode(secret), "HmacSHA256"));
            mac.update(before.getBytes(StandardCharsets.UTF_8));
            return Base64.getEncoder().encodeToString(mac.doFinal(body));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("Every Java has HMAC-SHA256", e);
        }
    }
}
