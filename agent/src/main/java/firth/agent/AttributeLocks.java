package firth.agent;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;

/**
 * The locks of a Linux file system: the attributes <em>immutable</em> and <em>append only</em> of a file or its directory, as {@code lsattr}
 * tells them, and mounts that can be read only. Neither has an end that could be told. Where the file system has no attributes nothing is told.
 */
final class AttributeLocks implements Locks {

    private static final long PATIENCE_S = 60;

    private final String program;
    private boolean tells = true;

    AttributeLocks() {
        this("lsattr");
    }

    /** @param program what is asked for attributes */
    AttributeLocks(String program) {
        this.program = program;
    }

    @Override
    public Function<String, Lock> in(String from, Path at) throws IOException, InterruptedException {
        if (Files.getFileStore(at).isReadOnly()) {
            return name -> Lock.READ_ONLY;
        }
        if (!tells) {
            return name -> Lock.UNKNOWN;
        }
        Map<String, Boolean> fixed = attributes(at, "-a", at.toString());
        tells = !fixed.isEmpty();
        if (fixed.getOrDefault(".", false)) {
            return name -> Lock.IMMUTABLE;
        }
        return name -> {
            Boolean own = fixed.get(name);
            return own == null ? Lock.UNKNOWN : own ? Lock.IMMUTABLE : Lock.NONE;
        };
    }

    /** Asked of one file alone: its directory may hold very many. */
    @Override
    public Lock of(String from, Path at, String name) throws IOException, InterruptedException {
        if (Files.getFileStore(at).isReadOnly()) {
            return Lock.READ_ONLY;
        }
        Map<String, Boolean> fixed = attributes(at, "-d", at + "/.", at + "/" + name);
        return fixed.containsValue(true) ? Lock.IMMUTABLE : fixed.containsKey(name) ? Lock.NONE : Lock.UNKNOWN;
    }

    /** Whether attributes keep it, by name; {@code .} is the directory itself. Names with a line feed are not told of. */
    private Map<String, Boolean> attributes(Path at, String how, String... what)
            throws IOException, InterruptedException {
        Map<String, Boolean> out = new HashMap<>();
        Process asked;
        try {
            List<String> command = new ArrayList<>(List.of(program, how, "--"));
            command.addAll(List.of(what));
            asked = new ProcessBuilder(command)
                    .redirectError(ProcessBuilder.Redirect.DISCARD)
                    .start();
        } catch (IOException notInstalled) {
            return out;
        }
        String before = at + "/";
        try (BufferedReader lines =
                new BufferedReader(new InputStreamReader(asked.getInputStream(), StandardCharsets.UTF_8))) {
            for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                int blank = line.indexOf(' ');
                if (blank > 0 && line.startsWith(before, blank + 1)) {
                    String flags = line.substring(0, blank);
                    out.put(line.substring(blank + 1 + before.length()), flags.matches(".*[ia].*"));
                }
            }
        }
        if (!asked.waitFor(PATIENCE_S, TimeUnit.SECONDS)) {
            asked.destroyForcibly();
        }
        return out;
    }
}
