package firth.server.purge;

import firth.core.Evaluation;
import firth.core.record.Deed;
import firth.exchange.Told;
import firth.server.BadRequest;
import firth.server.FactsHolder;
import firth.server.Lookout;
import firth.server.NotFound;
import firth.server.people.Refused;
import firth.server.people.Who;
import firth.store.ItemState;
import firth.store.PurgeState;
import firth.store.Purges;
import firth.store.Snapshot;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;

/** Where lists of copies to be deleted are asked for, approved, begun and stopped. */
@ApplicationScoped
class Desk {

    private static final int LONGEST = 1_000;

    private final Choosing choosing;
    private final Checking checking;
    private final Afterwards afterwards;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;

    Desk(Choosing choosing, Checking checking, Afterwards afterwards, FactsHolder facts, Lookout lookout, Who who) {
        this.choosing = choosing;
        this.checking = checking;
        this.afterwards = afterwards;
        this.facts = facts;
        this.lookout = lookout;
        this.who = who;
    }

    private Purges purges() {
        return facts.store().purges();
    }

    Purges.Purge find(String id) {
        return purges().find(id).orElseThrow(() -> new NotFound("There is no purge " + id + "."));
    }

    /**
     * Asks for everything that may go, but for some lines.
     *
     * @param seen the hash of what was seen
     */
    String ask(Optional<String> store, Set<String> leftOut, String reason, String seen) {
        if (reason == null || reason.isBlank() || reason.length() > LONGEST) {
            throw new BadRequest("reason", "is not of 1 to " + LONGEST + " characters: why is room freed?");
        }
        Choosing.Choice choice = choosing.choose(store, leftOut);
        List<Purges.Item> items = items(choice, leftOut);
        if (items.isEmpty()) {
            throw new BadRequest("leftOut", "leaves nothing to purge");
        }
        if (!Marked.of(items).equals(seen)) {
            throw new BadRequest(
                    "hash",
                    "is not that of what may go now: facts came in meanwhile; look again and ask for what you see");
        }
        List<String> flaws = choice.parts().stream()
                .flatMap(p ->
                        p.proof().flaws().stream().map(f -> p.e().database().name() + ": " + f))
                .toList();
        if (!flaws.isEmpty()) {
            throw new BadRequest("leftOut", "is to name more: " + flaws.get(0));
        }
        items = placed(items);
        int approvals = approvals(choice, items);
        String hash = Seal.of(choice.proof(), items);
        Purges.Purge purge = new Purges.Purge(
                "purge-" + UUID.randomUUID().toString().substring(0, 8),
                store,
                approvals == 0 ? PurgeState.APPROVED : PurgeState.ASKED,
                who.id(),
                lookout.now(),
                reason.strip(),
                approvals,
                choice.proof(),
                hash,
                "",
                Optional.empty());
        purges().ask(
                        purge,
                        items,
                        told(
                                "purge-asked",
                                purge.id(),
                                Map.of(
                                        "hash", hash,
                                        "copies", items.size(),
                                        "bytes",
                                                items.stream()
                                                        .mapToDouble(Purges.Item::bytes)
                                                        .sum(),
                                        "store", store.orElse(""),
                                        "reason", purge.reason(),
                                        "approvals", approvals)));
        return purge.id();
    }

    /** The items that go; where each lies is not yet looked up. */
    static List<Purges.Item> items(Choosing.Choice choice, Set<String> leftOut) {
        List<Purges.Item> out = new ArrayList<>();
        for (Choosing.Part part : choice.parts()) {
            Evaluation e = part.e();
            for (int k : part.candidates().rows(leftOut)) {
                out.add(new Purges.Item(
                        out.size() + 1,
                        e.database().id(),
                        e.history().id(e.retention().backup(k)),
                        e.history().kind(e.retention().backup(k)).word(),
                        e.retention().store(k),
                        "",
                        part.candidates().bytes(k),
                        "",
                        Instant.ofEpochMilli(e.history().landedMs(e.retention().copy(k))),
                        part.candidates().why(k),
                        ItemState.WAITING,
                        "",
                        OptionalDouble.empty(),
                        Optional.empty()));
            }
        }
        return out;
    }

    /** The same items with where each lies and what it adds up to. */
    private List<Purges.Item> placed(List<Purges.Item> items) {
        try (Snapshot snapshot = facts.store().read()) {
            return items.stream()
                    .map(i -> {
                        String told = snapshot.copyTold(i.backup(), i.store());
                        return i.placed(
                                Told.path(told).orElse(""), Told.checksum(told).orElse(""));
                    })
                    .toList();
        }
    }

    /** The most approvals any policy of those concerned asks for. */
    private int approvals(Choosing.Choice choice, List<Purges.Item> items) {
        Set<String> concerned = items.stream().map(Purges.Item::database).collect(java.util.stream.Collectors.toSet());
        Map<String, Integer> asked = checking.approvalsByPolicy();
        return choice.parts().stream()
                .map(Choosing.Part::e)
                .filter(e -> concerned.contains(e.database().id()))
                .mapToInt(e -> e.version()
                        .map(v -> asked.getOrDefault(v.id() + " " + v.version(), 1))
                        .orElse(1))
                .max()
                .orElse(1);
    }

    /** Approves a list another asked for; what is no longer safe drops out with the reason. */
    void approve(String id, String seen) {
        Purges.Purge purge = whole(find(id));
        if (purge.state() != PurgeState.ASKED) {
            throw new BadRequest("purge", "is " + purge.state().word() + ": there is nothing to approve");
        }
        if (purge.askedBy().equals(who.id())) {
            throw Refused.notYours("Whoever asks for a purge cannot approve it.", "Let another person look at it.");
        }
        Map<String, Instant> approvals = purges().approvals(id);
        if (approvals.containsKey(who.id())) {
            throw Refused.notYours("You approved it already.", "It waits for another person.");
        }
        if (!purge.hash().equals(seen)) {
            throw new BadRequest("hash", "is not that of the list as it is kept: look at it again");
        }
        List<Purges.Outcome> dropped = checking.dropped(purges().items(id));
        boolean last = approvals.size() + 1 >= purge.approvals();
        purges().approve(
                        id,
                        who.id(),
                        last ? PurgeState.APPROVED : PurgeState.ASKED,
                        dropped,
                        told("purge-approved", id, Map.of("hash", purge.hash(), "dropped", dropped.size())),
                        lookout.now());
    }

    void carryOut(String id) {
        Purges.Purge purge = whole(find(id));
        demand(purge, "carried out", PurgeState.APPROVED, PurgeState.PAUSED);
        purges().turn(id, PurgeState.RUNNING, "", told("purge-begun", id, Map.of("hash", purge.hash())), lookout.now());
    }

    void pause(String id) {
        demand(find(id), "paused", PurgeState.RUNNING);
        purges().turn(id, PurgeState.PAUSED, "", told("purge-paused", id, Map.of()), lookout.now());
    }

    /** Nothing more is deleted; items an agent has already may still be told of. */
    void cancel(String id) {
        demand(find(id), "cancelled", PurgeState.ASKED, PurgeState.APPROVED, PurgeState.RUNNING, PurgeState.PAUSED);
        purges().turn(id, PurgeState.CANCELLED, "", told("purge-cancelled", id, Map.of()), lookout.now());
    }

    private static void demand(Purges.Purge purge, String what, PurgeState... states) {
        if (!Set.of(states).contains(purge.state())) {
            throw new BadRequest("purge", "is " + purge.state().word() + " and cannot be " + what);
        }
    }

    /**
     * A list that is as it was asked for; one that was altered is stopped for good.
     *
     * @throws Refused where it was altered
     */
    Purges.Purge whole(Purges.Purge purge) {
        String flaw = flaw(purge);
        if (flaw.isEmpty()) {
            return purge;
        }
        if (!purge.state().isOver()) {
            purges().turn(
                            purge.id(),
                            PurgeState.STOPPED,
                            flaw,
                            new Deed.Told(
                                    Who.FIRTH,
                                    "purge-stopped",
                                    purge.id(),
                                    Choosing.json(Map.of("why", flaw, "hash", purge.hash()))),
                            lookout.now());
        }
        throw Refused.notYours(
                "The list was altered since it was asked for: " + flaw + ".",
                "Ask for a new one; the record says who did what.");
    }

    /** What does not fit; empty where the list is whole. */
    String flaw(Purges.Purge purge) {
        return flaw(purge, purges().items(purge.id()));
    }

    /** The same where the items of the list are at hand. */
    String flaw(Purges.Purge purge, List<Purges.Item> items) {
        if (!Seal.of(purge.proof(), items).equals(purge.hash())) {
            return "its items or its proof are not those it was sealed with";
        }
        boolean recorded = facts.store().deeds().about(purge.id(), "purge-asked").stream()
                .anyMatch(d -> d.detail().contains("\"" + purge.hash() + "\""));
        return recorded ? "" : "the record has no list with its seal";
    }

    private Deed.Told told(String act, String purge, Map<String, ?> detail) {
        return new Deed.Told(who.id(), act, purge, Choosing.json(new TreeMap<>(detail)));
    }
}
