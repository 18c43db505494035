package firth.server.purge;

import firth.server.platform.Secrets;
import firth.store.Purges;
import java.util.List;
import java.util.stream.Collectors;

/** What is chosen, in a word: the same for the same copies. */
final class ChoiceMark {

    private ChoiceMark() {}

    static String of(List<Purges.Item> items) {
        return Secrets.hash(items.stream()
                .map(i -> i.backup() + "\t" + i.store() + "\t" + i.landed())
                .sorted()
                .collect(Collectors.joining("\n")));
    }
}
