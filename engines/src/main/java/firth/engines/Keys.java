package firth.engines;

import com.exceptionfactory.jagged.RecipientStanzaReader;
import com.exceptionfactory.jagged.RecipientStanzaWriter;
import com.exceptionfactory.jagged.framework.stream.StandardDecryptingChannelFactory;
import com.exceptionfactory.jagged.framework.stream.StandardEncryptingChannelFactory;
import com.exceptionfactory.jagged.x25519.X25519RecipientStanzaReaderFactory;
import com.exceptionfactory.jagged.x25519.X25519RecipientStanzaWriterFactory;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.GeneralSecurityException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Keys for files of the open format age (age-encryption.org/v1), by their names. Each lies in a file of its own as {@code age-keygen}
 * writes it: the secret on one line, and the public half in a comment above it.
 */
public final class Keys {

    /** There are none: what is encrypted cannot be read. */
    public static final Keys NONE = new Keys(new TreeMap<>());

    private static final String ENDING = ".age";
    private static final int BUFFER = 1 << 18;
    private static final Pattern SECRET = Pattern.compile("(?m)^AGE-SECRET-KEY-1[0-9A-Z]+$");
    private static final Pattern PUBLIC = Pattern.compile("(?m)^# public key: (age1[0-9a-z]+)\\s*$");

    private final Map<String, Key> keys;

    private record Key(RecipientStanzaReader reader, RecipientStanzaWriter writer) {}

    private Keys(Map<String, Key> keys) {
        this.keys = keys;
    }

    /**
     * Reads the files of keys.
     *
     * @throws IOException where one cannot be read or is none; the message names it and what to do
     */
    public static Keys of(Map<String, Path> files) throws IOException {
        Map<String, Key> keys = new TreeMap<>();
        for (Map.Entry<String, Path> each : files.entrySet()) {
            Path file = each.getValue();
            String content = Files.readString(file);
            Matcher secret = SECRET.matcher(content);
            Matcher recipient = PUBLIC.matcher(content);
            if (!secret.find() || !recipient.find()) {
                throw new IOException(
                        file + " is no key as age-keygen writes it, with its public half in a comment above");
            }
            try {
                keys.put(
                        each.getKey(),
                        new Key(
                                X25519RecipientStanzaReaderFactory.newRecipientStanzaReader(secret.group()),
                                X25519RecipientStanzaWriterFactory.newRecipientStanzaWriter(recipient.group(1))));
            } catch (GeneralSecurityException | IllegalArgumentException e) {
                throw new IOException(file + " is no key: " + e.getMessage(), e);
            }
        }
        return new Keys(keys);
    }

    private Key key(String name) {
        return Optional.ofNullable(keys.get(name)).orElseThrow(() -> new IllegalArgumentException("no key " + name));
    }

    /** Whether a file of a name is encrypted. */
    public static boolean isSealed(String name) {
        return name.endsWith(ENDING);
    }

    /** What a file is called once it is encrypted. */
    public static String sealed(String name) {
        return name + ENDING;
    }

    /** What it was called before. */
    static String opened(String name) {
        return isSealed(name) ? name.substring(0, name.length() - ENDING.length()) : name;
    }

    /** Writes a file that is encrypted; it is whole once the stream is closed. */
    public OutputStream seal(Path to, String name) throws IOException {
        FileChannel file = FileChannel.open(to, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE);
        try {
            return new BufferedOutputStream(
                    Channels.newOutputStream(new StandardEncryptingChannelFactory()
                            .newEncryptingChannel(file, List.of(key(name).writer))),
                    BUFFER);
        } catch (GeneralSecurityException e) {
            file.close();
            throw new IOException(to + " cannot be encrypted: " + e.getMessage(), e);
        }
    }

    /** A file is encrypted, and no key here opens it; the message says so in a clause. */
    static final class Closed extends IOException {
        private static final long serialVersionUID = 1;

        Closed(String why) {
            super(why);
        }
    }

    private record Opened(String name, InputStream content) {}

    /** What a file holds that is encrypted. */
    InputStream open(Path file) throws IOException {
        return tried(file).content;
    }

    /** The name of the key that opens a file that is encrypted. */
    String nameFor(Path file) throws IOException {
        Opened opened = tried(file);
        opened.content.close();
        return opened.name;
    }

    private Opened tried(Path file) throws IOException {
        for (Map.Entry<String, Key> each : keys.entrySet()) {
            FileChannel channel = FileChannel.open(file, StandardOpenOption.READ);
            try {
                return new Opened(
                        each.getKey(),
                        new BufferedInputStream(
                                Channels.newInputStream(new StandardDecryptingChannelFactory()
                                        .newDecryptingChannel(channel, List.of(each.getValue().reader))),
                                BUFFER));
            } catch (GeneralSecurityException anotherKey) {
                channel.close();
            } catch (IOException e) {
                channel.close();
                throw e;
            }
        }
        throw new Closed(
                keys.isEmpty()
                        ? "is encrypted, and no key is named here"
                        : "is encrypted, and none of the keys " + String.join(", ", keys.keySet()) + " opens it");
    }
}
