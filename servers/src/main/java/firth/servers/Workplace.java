package firth.servers;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/** A directory in which programs of an engine run as somebody without rights; gone when it is closed. */
public final class Workplace implements AutoCloseable {

    private static final String NOBODY = "nobody";
    private static final int PATIENCE_S = 120;

    private final Path root;
    private final String zone;
    private final boolean asRoot = "root".equals(System.getProperty("user.name"));
    private final Map<Process, Path> logs = new ConcurrentHashMap<>();

    public Workplace() {
        this("UTC");
    }

    /** One in another zone: of the servers, and of whoever runs a script. */
    public Workplace(String zone) {
        this.zone = zone;
        try {
            root = Files.createTempDirectory("firth-real");
            Files.setPosixFilePermissions(root, PosixFilePermissions.fromString("rwxr-xr-x"));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        handOver(root);
    }

    public Path path(String name) {
        return root.resolve(name);
    }

    /** A directory the programs may write to. */
    public Path directory(String name) {
        Path made = root.resolve(name);
        try {
            Files.createDirectories(made);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        handOver(made);
        return made;
    }

    /** What was written here as another user is the programs' own from now on. */
    public void handOver(Path path) {
        if (asRoot) {
            finish(start(List.of("chown", "-R", NOBODY, path.toString()), Map.of(), false));
        }
    }

    /** Runs a program to its end and gives what it printed; one that fails throws with it. */
    public String run(String... command) {
        return finish(start(List.of(command), Map.of(), asRoot));
    }

    public String run(Map<String, String> settings, String... command) {
        return finish(start(List.of(command), settings, asRoot));
    }

    /** Starts a program that goes on running. */
    public Process begin(String... command) {
        return start(List.of(command), Map.of(), asRoot);
    }

    private Process start(List<String> command, Map<String, String> settings, boolean asNobody) {
        List<String> all = new ArrayList<>();
        if (asNobody) {
            all.addAll(List.of("runuser", "-u", NOBODY, "--"));
        }
        all.addAll(command);
        ProcessBuilder builder =
                new ProcessBuilder(all).directory(root.toFile()).redirectErrorStream(true);
        builder.environment().put("LC_ALL", "C.UTF-8");
        builder.environment().put("TZ", zone);
        builder.environment().put("HOME", root.toString());
        builder.environment().putAll(settings);
        try {
            Path log = Files.createTempFile(root, "run", ".log");
            Process process = builder.redirectOutput(log.toFile()).start();
            logs.put(process, log);
            return process;
        } catch (IOException e) {
            throw new UncheckedIOException(command.get(0) + " is not installed; ./firth test installs it", e);
        }
    }

    /** What a program that was begun has said so far. */
    public String said(Process process) {
        try {
            return Files.readString(logOf(process), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private Path logOf(Process process) {
        return Objects.requireNonNull(logs.get(process), "it was not started here, or has ended");
    }

    private String finish(Process process) {
        try {
            if (!process.waitFor(PATIENCE_S, TimeUnit.SECONDS)) {
                process.destroyForcibly();
                throw new IllegalStateException("it did not end: " + process.info());
            }
            Path log = logOf(process);
            logs.remove(process);
            String said = Files.readString(log, StandardCharsets.UTF_8);
            Files.delete(log);
            if (process.exitValue() != 0) {
                throw new Failed(process.exitValue(), said);
            }
            return said;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }

    /** A program ended otherwise than well. */
    public static final class Failed extends RuntimeException {
        private static final long serialVersionUID = 1;

        Failed(int status, String said) {
            super("status " + status + ": " + said);
        }
    }

    public static int freePort() {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @Override
    public void close() {
        try (Stream<Path> all = Files.walk(root)) {
            all.sorted(Comparator.reverseOrder()).forEach(p -> p.toFile().delete());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
