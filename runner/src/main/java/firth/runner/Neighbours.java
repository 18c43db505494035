package firth.runner;

import firth.core.model.Id;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Database servers that listen on this host, whoever runs them: by the sockets the kernel lists, which everybody may read. */
final class Neighbours {

    /** What the kernel lists. */
    static final Path SOCKETS = Path.of("/proc/net/unix");

    private static final Pattern POSTGRESQL = Pattern.compile("/.*/\\.s\\.PGSQL\\.(\\d{1,5})");
    private static final Pattern MARIADB = Pattern.compile("/.*/(?:mysqld|mysql|mariadb)\\.sock");

    /** Number, count, protocol, flags that say that it listens, type, state, inode, and then the path. */
    private static final Pattern LISTENS = Pattern.compile("\\S+: \\S+ \\S+ 00010000 \\S+ \\S+ +\\d+ (/.*)");

    private Neighbours() {}

    /**
     * A server.
     *
     * @param name what it is called until somebody enrols it
     * @param engine the word for its engine; the version is not known without asking it
     */
    record Server(String name, String engine, Path socket) {}

    /**
     * Those that are none of the known ones, by name.
     *
     * @param listing of the kernel
     * @param known sockets at which servers listen that are known
     */
    static List<Server> unknown(Path listing, Collection<Path> known) throws IOException {
        Set<Path> own = new HashSet<>();
        known.forEach(k -> own.add(real(k)));
        TreeMap<String, Server> out = new TreeMap<>();
        for (String line : Files.readAllLines(listing)) {
            Matcher listens = LISTENS.matcher(line);
            if (!listens.matches() || own.contains(real(Path.of(listens.group(1))))) {
                continue;
            }
            Path socket = Path.of(listens.group(1));
            Matcher postgresql = POSTGRESQL.matcher(listens.group(1));
            if (postgresql.matches()) {
                String name = "PostgreSQL on port " + postgresql.group(1);
                String apart = out.containsKey(name) ? name + " in " + socket.getParent() : name;
                out.put(apart, new Server(apart, "PostgreSQL", socket));
            } else if (MARIADB.matcher(listens.group(1)).matches()) {
                String name = "MariaDB at " + socket;
                out.put(name, new Server(name, "MariaDB", socket));
            }
        }
        return new ArrayList<>(out.values());
    }

    /** What the sighting of a server on a host is called: an id, whatever the server is. */
    static String id(String host, String name) {
        String id = (host + ":" + name).replaceAll("[^A-Za-z0-9._:/-]+", "-");
        return id.substring(0, Math.min(Id.LONGEST, id.length()));
    }

    /** A path without links, as far as it can be followed. */
    private static Path real(Path socket) {
        try {
            Path parent = socket.getParent();
            return parent == null ? socket : parent.toRealPath().resolve(socket.getFileName());
        } catch (IOException unreachable) {
            return socket;
        }
    }
}
