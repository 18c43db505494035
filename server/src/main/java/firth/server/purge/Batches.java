package firth.server.purge;

import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Spoilage;
import firth.core.record.Deed;
import firth.exchange.link.Signatures;
import firth.server.evaluation.Lookout;
import firth.server.platform.Conflict;
import firth.server.platform.FactsHolder;
import firth.server.platform.Refused;
import firth.server.platform.Who;
import firth.store.FactStore;
import firth.store.ItemState;
import firth.store.PurgeState;
import firth.store.Purges;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Hands out items of lists being carried out, batch by batch, each proved a moment before, and takes what became of them. */
@ApplicationScoped
public class Batches {

    /** So many items are out at a store at once: what is in somebody's hands cannot be called back. */
    static final int BATCH = 250;

    /** How long after it was handed out an agent may carry out a batch. */
    private static final Duration GOOD_FOR = Duration.ofMinutes(15);

    private static final Set<ItemState> TOLD =
            Set.of(ItemState.DELETED, ItemState.MISSING, ItemState.LOCKED, ItemState.FAILED);

    private final ListDecisions decisions;
    private final ItemReproof reproof;
    private final CoverAfterPurge afterwards;
    private final StandingGate standing;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;

    Batches(
            ListDecisions decisions,
            ItemReproof reproof,
            CoverAfterPurge afterwards,
            StandingGate standing,
            FactsHolder facts,
            Lookout lookout,
            Who who) {
        this.decisions = decisions;
        this.reproof = reproof;
        this.afterwards = afterwards;
        this.standing = standing;
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
    }

    /** The batches for a store, of each list one: what it had already and did not tell of, else more. */
    public List<AgentWork.Batch> batches(String store) {
        List<AgentWork.Batch> out = new ArrayList<>();
        for (String id : facts.store().purges().waiting(store)) {
            try {
                batch(id, store).ifPresent(out::add);
            } catch (Refused altered) {
                // It has been stopped, and the record says why; other lists go on.
                continue;
            }
            afterwards.finishIfOver(id);
        }
        return out;
    }

    /** Proves the next items and hands them out, in one transaction: a cancel, a pause or a hold that came before wins. */
    private Optional<AgentWork.Batch> batch(String id, String store) {
        List<Purges.Item> going = new ArrayList<>();
        Purges.Purge[] list = {null};
        decisions.acting(id, "The items could not be handed out", (steps, purge) -> {
            List<Purges.Item> items =
                    purge.state() == PurgeState.RUNNING && standing.shut(id).isEmpty()
                            ? steps.next(id, store, BATCH)
                            : List.<Purges.Item>of();
            if (items.isEmpty()) {
                return;
            }
            List<Purges.Outcome> outcomes = new ArrayList<>(reproof.dropped(items));
            Set<Integer> dropped = outcomes.stream().map(Purges.Outcome::num).collect(Collectors.toSet());
            Optional<Deed.Told> told = dropped.isEmpty()
                    ? Optional.empty()
                    : Optional.of(new Deed.Told(
                            Who.FIRTH,
                            "purge-items-dropped",
                            id,
                            PurgeChoices.json(outcomes.stream()
                                    .collect(Collectors.toMap(o -> String.valueOf(o.num()), Purges.Outcome::told)))));
            items.stream().filter(i -> !dropped.contains(i.num())).forEach(i -> {
                going.add(i);
                outcomes.add(i.becomes(ItemState.HANDED, "", OptionalDouble.empty(), who.id()));
            });
            steps.hand(purge, outcomes, told, lookout.now());
            list[0] = purge;
        });
        return going.isEmpty() ? Optional.empty() : Optional.of(signed(list[0], going));
    }

    private AgentWork.Batch signed(Purges.Purge purge, List<Purges.Item> items) {
        Instant expires = lookout.now().plus(GOOD_FOR);
        StringBuilder text = new StringBuilder(purge.id() + "\n" + purge.hash() + "\n" + expires);
        List<AgentWork.BatchItem> out = new ArrayList<>();
        for (Purges.Item i : items) {
            AgentWork.BatchItem item =
                    new AgentWork.BatchItem(i.num(), i.backup(), i.path(), Math.round(i.bytes()), i.checksum());
            text.append('\n')
                    .append(item.item())
                    .append('\n')
                    .append(item.path())
                    .append('\n');
            text.append(item.bytes()).append('\n').append(item.checksum());
            out.add(item);
        }
        return new AgentWork.Batch(
                purge.id(),
                purge.hash(),
                expires,
                out,
                Signatures.sign(who.key().orElse(""), text.toString()));
    }

    /** The numbers of the items of a list that may be deleted by hand at this moment, ascending. */
    List<Integer> going(String id, @Nullable String hash) {
        Purges.Purge purge = decisions.find(id);
        if (!purge.hash().equals(hash)) {
            throw new Conflict("The list " + id + " is not the one that was saved.", "Save it again.");
        }
        decisions.checkWhole(id);
        if (purge.state() != PurgeState.RUNNING) {
            throw new Conflict(
                    "The list " + id + " is " + purge.state().word() + ": nothing of it is to be deleted.",
                    "Look at its page.");
        }
        String shut = standing.shut(id);
        if (!shut.isEmpty()) {
            throw new Conflict(
                    "Nothing of the list " + id + " is to be deleted now: " + shut + ".", "Look at its page.");
        }
        List<Purges.Item> items = facts.store().purges().items(id, ItemState.WAITING).stream()
                .filter(i -> !who.isProgram()
                        || who.place().filter(i.store()::equals).isPresent())
                .toList();
        Set<Integer> dropped =
                reproof.dropped(items).stream().map(Purges.Outcome::num).collect(Collectors.toSet());
        return items.stream()
                .map(Purges.Item::num)
                .filter(n -> !dropped.contains(n))
                .toList();
    }

    private record Delivered(
            String source,
            Optional<Instant> newestFact,
            Optional<Deed.Told> deed,
            Optional<FactStore.PurgeOutcomes> purge)
            implements FactStore.Delivery {}

    /**
     * Takes what became of items, at one store or, told by hand, at any.
     *
     * @param store the store whose agent tells; empty: a person does, of items nobody need have handed out
     */
    public AgentWork.Taken told(Optional<String> store, AgentWork.ToldItems said) {
        Purges.Purge purge = decisions.find(said.purge());
        if (!purge.hash().equals(said.hash())) {
            throw new Conflict(
                    "The list " + said.purge() + " is not the one that was carried out.", "Was another carried out?");
        }
        boolean begun = purge.state() == PurgeState.RUNNING
                || purge.state() == PurgeState.PAUSED
                || purge.state() == PurgeState.CANCELLED;
        if (!begun) {
            throw new Conflict(
                    "The list " + said.purge() + " is " + purge.state().word() + ": nothing of it was to be deleted.",
                    "Look at its page; a stocktake finds what was deleted all the same.");
        }
        Map<Integer, Purges.Item> items = new HashMap<>();
        facts.store().purges().items(said.purge()).forEach(i -> items.put(i.num(), i));
        List<String> refused = new ArrayList<>();
        List<Purges.Outcome> outcomes = new ArrayList<>();
        Set<Integer> seen = new HashSet<>();
        for (AgentWork.ToldItem t : said.items()) {
            Optional<ItemState> state = TOLD.stream()
                    .filter(s -> s.word().equals(String.valueOf(t.outcome()).toLowerCase(Locale.ROOT)))
                    .findFirst();
            Purges.Item item = items.get(t.item());
            String flaw = flaw(store, item, state);
            if (item != null && flaw.isEmpty() && seen.add(t.item())) {
                outcomes.add(item.becomes(
                        state.get(),
                        t.text() == null ? "" : t.text(),
                        t.freed() == null ? OptionalDouble.empty() : OptionalDouble.of(t.freed()),
                        who.id()));
            } else if (!flaw.isEmpty()) {
                refused.add("item " + t.item() + " " + flaw);
            }
        }
        if (!outcomes.isEmpty()) {
            keep(purge, items, outcomes);
            afterwards.finishIfOver(purge.id());
        }
        return new AgentWork.Taken(outcomes.size(), refused);
    }

    private static String flaw(Optional<String> store, Purges.@Nullable Item item, Optional<ItemState> outcome) {
        if (item == null) {
            return "is not on the list";
        }
        if (outcome.isEmpty()) {
            return "was neither deleted, missing, locked nor failed";
        }
        if (store.isPresent()) {
            return !item.store().equals(store.get())
                    ? "lies in " + item.store()
                    : item.state() == ItemState.HANDED
                            ? ""
                            : "was not handed out; it is " + item.state().word();
        }
        return item.state().isOpen() || item.state() == ItemState.FAILED || item.state() == ItemState.LOCKED
                ? ""
                : "is " + item.state().word() + " already";
    }

    /** Keeps the outcomes and what follows for the facts, all or nothing. */
    private void keep(Purges.Purge purge, Map<Integer, Purges.Item> items, List<Purges.Outcome> outcomes) {
        Instant now = lookout.now();
        List<Backup> changed = new ArrayList<>();
        try (Snapshot snapshot = facts.store().read()) {
            for (Purges.Outcome o : outcomes) {
                Purges.Item i = Objects.requireNonNull(items.get(o.num()));
                if (o.state() == ItemState.DELETED || o.state() == ItemState.MISSING) {
                    snapshot.backup(i.backup())
                            .flatMap(b -> without(b, i, o.state(), now))
                            .ifPresent(changed::add);
                }
            }
        }
        Map<String, Long> tally = outcomes.stream()
                .collect(Collectors.groupingBy(o -> o.state().word(), java.util.TreeMap::new, Collectors.counting()));
        Deed.Told deed = new Deed.Told(
                who.id(),
                "purge-told",
                purge.id(),
                PurgeChoices.json(Map.of(
                        "hash", purge.hash(),
                        "outcomes", tally,
                        "items",
                                outcomes.stream()
                                        .map(o -> o.num() + " " + o.state().word())
                                        .toList())));
        try {
            facts.store()
                    .write(
                            catalog -> {
                                changed.forEach(catalog::put);
                                return changed;
                            },
                            written -> new Delivered(
                                    "purges",
                                    changed.isEmpty() ? Optional.empty() : Optional.of(now),
                                    Optional.of(deed),
                                    Optional.of(new FactStore.PurgeOutcomes(purge.id(), outcomes))),
                            now);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static Optional<Backup> without(Backup b, Purges.Item item, ItemState state, Instant now) {
        return b.copies().stream()
                .filter(c -> c.store().equals(item.store()) && c.gone().isEmpty())
                .findFirst()
                .map(c -> b.withCopies(List.of(new Copy(
                        c.store(),
                        c.landed(),
                        c.statedLanding(),
                        c.lockedUntil(),
                        state == ItemState.DELETED ? Optional.of(now) : c.gone(),
                        state == ItemState.MISSING ? Optional.of(new Spoilage(now, Optional.empty())) : c.spoiled(),
                        c.bytes(),
                        c.evidence(),
                        c.rest()))));
    }
}
