package firth.server.purge;

import firth.server.people.Secrets;
import firth.store.Purges;
import java.util.List;
import java.util.stream.Collectors;

/** What is chosen, in a word: the same for the same copies. */
final class Marked {

    private Marked() {}

    static String of(List<Purges.Item> items) {
        return Secrets.hash(items.stream()
                .map(i -> i.backup() + "\t" + i.store() + "\t" + i.landed())
                .sorted()
                .collect(Collectors.joining("\n")));
    }
}
