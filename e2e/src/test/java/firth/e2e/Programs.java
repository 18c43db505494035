package firth.e2e;

import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/** Firth's programs as processes of their own, on a machine set as the tests' own is: language, zone and charset. */
final class Programs {

    private static final Path ROOT = Path.of(System.getProperty("firth.root", ".."));

    private Programs() {}

    /** A command that runs Java with these arguments. */
    static List<String> java(String... arguments) {
        return java(List.of(arguments));
    }

    static List<String> java(List<String> arguments) {
        List<String> out = new ArrayList<>();
        out.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
        ManagementFactory.getRuntimeMXBean().getInputArguments().stream()
                .filter(a -> Stream.of("-Duser.language", "-Duser.country", "-Duser.timezone", "-Dfile.encoding")
                        .anyMatch(a::startsWith))
                .forEach(out::add);
        out.addAll(arguments);
        return out;
    }

    /** Where a module's program lies. */
    static String jar(String module, String classifier) {
        Path jar = ROOT.resolve(module + "/target/firth-" + module + "-" + System.getProperty("firth.version") + "-"
                + classifier + ".jar");
        if (!Files.exists(jar)) {
            throw new IllegalStateException(jar + " is missing; build it first: ./firth test");
        }
        return jar.toAbsolutePath().toString();
    }

    /** Where the classes of these tests lie. */
    static String classes() {
        return Path.of(URI.create(Programs.class
                        .getProtectionDomain()
                        .getCodeSource()
                        .getLocation()
                        .toString()))
                .toString();
    }

    /** Starts a command that adds what it says to {@code log.txt} in a directory. */
    static Process start(List<String> command, Path directory) throws IOException {
        return new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.appendTo(
                        directory.resolve("log.txt").toFile()))
                .start();
    }
}
