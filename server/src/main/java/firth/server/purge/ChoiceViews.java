package firth.server.purge;

import firth.core.model.BackupStore;
import firth.core.model.Role;
import firth.server.database.DatabaseView;
import firth.server.evaluation.HeldPart;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.store.Agents;
import firth.store.Purges;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** What may go now, as it is looked at before anything is asked for. */
@ApplicationScoped
class ChoiceViews {
    private static final List<String> KINDS = List.of("full", "diff", "incr", "log", "config");

    private final PurgeChoices choices;
    private final PurgeLists lists;
    private final FactsHolder facts;
    private final Lookout lookout;

    ChoiceViews(PurgeChoices choices, PurgeLists lists, FactsHolder facts, Lookout lookout) {
        this.choices = choices;
        this.lists = lists;
        this.facts = facts;
        this.lookout = lookout;
    }

    /** What may go now, with the proof for what is chosen of it. Nothing is asked for by asking this. */
    PurgeView choice(PurgeView.Chosen chosen) {
        Optional<String> store = chosen.store() == null ? choices.fullest() : store(chosen.store());
        Set<String> leftOut = leftOut(chosen.leftOut());
        PurgeChoices.Looked looked = choices.largest(store, most(chosen.most()));
        PurgeChoices.FleetChoice choice = choices.choose(store, looked, leftOut);
        List<Purges.Item> items = ListDecisions.items(choice, leftOut);
        return new PurgeView(
                choice.asOf(),
                stores(choice),
                store.orElse(null),
                looked.ids(),
                looked.others(),
                looked.otherBytes(),
                rows(choice, store),
                choice.parts().stream()
                        .flatMap(p -> p.lines().stream())
                        .sorted(Comparator.comparing(PurgeView.LineView::name)
                                .thenComparing(PurgeView.LineView::storeName)
                                .thenComparing(l -> KINDS.indexOf(l.kind()))
                                .thenComparing(PurgeView.LineView::from, Comparator.reverseOrder()))
                        .toList(),
                choice.parts().stream()
                        .filter(p -> p.proof().copies() > 0)
                        .map(PurgeChoices::view)
                        .toList(),
                ChoiceMark.of(items),
                items.size(),
                items.stream().mapToDouble(Purges.Item::bytes).sum(),
                levels(choice, items),
                lists.latest(choice.fleet()));
    }

    /** The one store named; empty where the whole fleet is. */
    static Optional<String> store(@Nullable String named) {
        return Optional.ofNullable(named).filter(s -> !s.isBlank() && !s.equals(PurgeView.ALL));
    }

    /** How many databases are looked at. */
    private static OptionalInt most(@Nullable Integer asked) {
        if (asked == null) {
            return OptionalInt.empty();
        }
        if (asked < 1 || asked > PurgeChoices.AT_MOST) {
            throw new BadRequest("most", "is " + asked + "; a list takes 1 to " + PurgeChoices.AT_MOST + " databases");
        }
        return OptionalInt.of(asked);
    }

    static Set<String> leftOut(List<String> given) {
        return given == null ? Set.of() : new HashSet<>(given);
    }

    private List<PurgeView.StoreChoice> stores(PurgeChoices.FleetChoice choice) {
        Map<String, Double> obsolete = HeldPart.byStore(choices.held().each(), HeldPart.Held::obsolete);
        Map<String, Agents.Agent> agents = facts.store().agents().all();
        return choice.fleet().fleet().stores().stream()
                .sorted(Comparator.comparing(
                                (BackupStore s) -> s.role().map(Role::ordinal).orElse(9))
                        .thenComparing(BackupStore::id))
                .map(s -> new PurgeView.StoreChoice(
                        s.id(),
                        choice.fleet().storeName(s.id()),
                        s.role().map(Role::word).orElse(""),
                        obsolete.getOrDefault(s.id(), 0.0),
                        agents.containsKey(s.id()) && !agents.get(s.id()).isSilentAt(lookout.now())))
                .toList();
    }

    private static List<PurgeView.ShelfRow> rows(PurgeChoices.FleetChoice choice, Optional<String> store) {
        List<PurgeView.ShelfRow> out = new ArrayList<>();
        for (PurgeChoices.DatabaseChoice part : choice.parts()) {
            for (DatabaseView.Shelf shelf : part.shelves()) {
                if (store.filter(s -> !s.equals(shelf.store())).isEmpty()) {
                    out.add(new PurgeView.ShelfRow(
                            part.database().id(), part.database().name(), shelf, shelf.obsoleteBytes()));
                }
            }
        }
        out.sort(Comparator.comparing(PurgeView.ShelfRow::bytes).reversed());
        return out;
    }

    /** What each store holds that something goes from. */
    private List<PurgeView.Level> levels(PurgeChoices.FleetChoice choice, List<Purges.Item> items) {
        Map<String, Double> freed = new TreeMap<>();
        items.forEach(i -> freed.merge(i.store(), i.bytes(), Double::sum));
        Map<String, Double> held = HeldPart.byStore(choices.held().each(), HeldPart.Held::bytes);
        return freed.entrySet().stream()
                .map(f -> new PurgeView.Level(
                        f.getKey(),
                        choice.fleet().storeName(f.getKey()),
                        choice.fleet()
                                .fleet()
                                .store(f.getKey())
                                .filter(s -> s.capacityBytes().isPresent())
                                .map(s -> s.capacityBytes().getAsDouble())
                                .orElse(null),
                        held.getOrDefault(f.getKey(), 0.0),
                        held.getOrDefault(f.getKey(), 0.0) - f.getValue()))
                .toList();
    }
}
