package firth.runner;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import firth.core.model.Id;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.channels.ServerSocketChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class NeighboursTest {

    /** As the kernel lists them: one that listens, one of its connections, ones without a path, and programs of other kinds. */
    private static final String LISTING = """
            Num       RefCount Protocol Flags    Type St Inode Path
            ffff8d1: 00000002 00000000 00010000 0001 01 20531 %1$s/run/postgresql/.s.PGSQL.5432
            ffff8d2: 00000003 00000000 00000000 0001 03 20532 %1$s/run/postgresql/.s.PGSQL.5433
            ffff8d3: 00000003 00000000 00000000 0001 03 20533
            ffff8d4: 00000002 00000000 00010000 0001 01     7 %1$s/other place/.s.PGSQL.5432
            ffff8d5: 00000002 00000000 00010000 0001 01 20535 %1$s/run/mysqld/mysqld.sock
            ffff8d6: 00000002 00000000 00010000 0001 01 20536 %1$s/run/mysqld/mysqlx.sock
            ffff8d7: 00000002 00000000 00010000 0001 01 20537 @/tmp/.s.PGSQL.5434
            ffff8d8: 00000002 00000000 00010000 0001 01 20538 %1$s/run/systemd/notify
            """;

    @TempDir
    private Path directory;

    private List<String> unknown(Path... known) throws Exception {
        Path listing = directory.resolve("unix");
        Files.writeString(listing, LISTING.replace("%1$s", directory.toString()));
        return Neighbours.unknown(listing, List.of(known)).stream()
                .map(s -> s.engine() + ": " + s.name().replace(directory.toString(), ""))
                .toList();
    }

    @Test
    void areTheServersThatListenByTheirSockets() throws Exception {
        assertEquals(
                List.of(
                        "MariaDB: MariaDB at /run/mysqld/mysqld.sock",
                        "PostgreSQL: PostgreSQL on port 5432",
                        "PostgreSQL: PostgreSQL on port 5432 in /other place"),
                unknown());
    }

    @Test
    void areNotThoseThatAreKnownByWhateverPath() throws Exception {
        Files.createDirectories(directory.resolve("run/postgresql"));
        Files.createSymbolicLink(directory.resolve("link"), directory.resolve("run"));
        assertEquals(
                List.of("PostgreSQL: PostgreSQL on port 5432"),
                unknown(
                        directory.resolve("link/postgresql/.s.PGSQL.5432"),
                        directory.resolve("run/mysqld/mysqld.sock")));
    }

    @Test
    void areFoundInTheListingOfTheKernelHere() throws Exception {
        Path socket = directory.resolve(".s.PGSQL.54321");
        try (ServerSocketChannel listening = ServerSocketChannel.open(StandardProtocolFamily.UNIX)) {
            listening.bind(UnixDomainSocketAddress.of(socket));
            assertTrue(sockets(List.of()).contains(socket));
            assertFalse(sockets(List.of(socket)).contains(socket));
        }
    }

    private static List<Path> sockets(List<Path> known) throws Exception {
        return Neighbours.unknown(Neighbours.SOCKETS, known).stream()
                .map(Neighbours.Server::socket)
                .toList();
    }

    @Test
    void haveIdsThatFirthTakes() {
        assertEquals("pier:PostgreSQL-on-port-5433", Neighbours.id("pier", "PostgreSQL on port 5433"));
        for (String name : List.of("harbour", "MariaDB at /srv/a b/ü/mysqld.sock", "x".repeat(300))) {
            assertTrue(Id.isId(Neighbours.id("pier", name)), name);
        }
    }
}
