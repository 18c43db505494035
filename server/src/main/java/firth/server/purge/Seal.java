package firth.server.purge;

import firth.server.platform.Secrets;
import firth.store.Purges;
import java.util.List;
import java.util.stream.Collectors;

/** What shows that a list is the one that was seen, approved and handed out. */
final class Seal {

    private Seal() {}

    /** SHA-256 over the proof and every item as it was asked for. What became of an item is no part of it. */
    static String of(String proof, List<Purges.Item> items) {
        return Secrets.hash(items.stream()
                .map(i -> String.join(
                        "\t",
                        String.valueOf(i.num()),
                        i.database(),
                        i.backup(),
                        i.store(),
                        i.path(),
                        String.valueOf(i.bytes()),
                        i.checksum(),
                        i.landed().toString()))
                .collect(Collectors.joining("\n", proof + "\n", "\n")));
    }
}
