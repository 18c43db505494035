package firth.server.purge;

import firth.core.record.Deed;
import firth.exchange.Told;
import firth.server.evaluation.Lookout;
import firth.server.platform.BadRequest;
import firth.server.platform.Conflict;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Refused;
import firth.server.platform.Who;
import firth.store.ItemState;
import firth.store.PurgeState;
import firth.store.Purges;
import firth.store.Snapshot;
import firth.wording.ProofWords;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;

/** Where lists of copies to be deleted are asked for, approved, begun and stopped. */
@ApplicationScoped
class ListDecisions {

    private static final int LONGEST = 1_000;

    /** How long one may look at what may go before one asks for it. */
    private static final Duration LOOKED = Duration.ofHours(1);

    private final PurgeChoices choices;
    private final ItemReproof reproof;
    private final FactsHolder facts;
    private final Lookout lookout;
    private final Who who;

    ListDecisions(PurgeChoices choices, ItemReproof reproof, FactsHolder facts, Lookout lookout, Who who) {
        this.choices = choices;
        this.reproof = reproof;
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
     * Asks for everything that may go, but for some lines: by the hash of what was seen, and the moment at which that was judged; time
     * alone lets ever more become obsolete, which is not what was seen.
     */
    String ask(PurgeView.Asked asked) {
        Optional<String> store = ChoiceViews.store(asked.store());
        Set<String> leftOut = ChoiceViews.leftOut(asked.leftOut());
        if (asked.reason().isBlank() || asked.reason().length() > LONGEST) {
            throw new BadRequest("reason", "is not of 1 to " + LONGEST + " characters: why is room freed?");
        }
        Instant now = lookout.present().asOf();
        if (asked.asOf().isAfter(now) || asked.asOf().isBefore(now.minus(LOOKED))) {
            throw new Conflict("What you looked at is too old to ask for.", "Look again.");
        }
        PurgeChoices.FleetChoice choice =
                choices.choose(store, looked(asked, store), leftOut, lookout.at(asked.asOf()));
        List<Purges.Item> items = items(choice, leftOut);
        checkSeen(choice, items, leftOut, asked.hash());
        List<Purges.Item> placed = placed(items);
        int approvals = approvals(choice, placed);
        PurgeState state = approvals == 0 ? PurgeState.APPROVED : PurgeState.ASKED;
        return kept(
                list(choice, placed, store, state, asked.reason().strip(), approvals), placed, (steps, purge) -> {});
    }

    /**
     * Asks of itself for what a standing purge chose, which two people put in force before, and begins with it.
     *
     * @param also what is checked and kept in the same transaction
     */
    void askByItself(PurgeChoices.FleetChoice choice, String reason, Doing also) {
        List<Purges.Item> placed = placed(items(choice, Set.of()));
        Purges.Purge purge = list(choice, placed, Optional.empty(), PurgeState.APPROVED, reason, 0);
        kept(purge, placed, (steps, made) -> {
            also.with(steps, made);
            Deed.Told told =
                    new Deed.Told(Who.FIRTH, "purge-begun", made.id(), PurgeChoices.json(Map.of("hash", made.hash())));
            steps.turn(made, PurgeState.RUNNING, "", told, lookout.now());
        });
    }

    private Purges.Purge list(
            PurgeChoices.FleetChoice choice,
            List<Purges.Item> placed,
            Optional<String> store,
            PurgeState state,
            String reason,
            int approvals) {
        return new Purges.Purge(
                "purge-" + UUID.randomUUID().toString().substring(0, 8),
                store,
                state,
                who.id(),
                lookout.now(),
                reason,
                approvals,
                choice.proof(),
                Seal.of(choice.proof(), placed),
                "",
                Optional.empty(),
                1);
    }

    /** The databases that were looked at; where nobody says which, those shown to whoever does not say how many. */
    private List<String> looked(PurgeView.Asked asked, Optional<String> store) {
        List<String> seen = asked.databases();
        if (seen == null) {
            return choices.largest(store, OptionalInt.empty()).ids();
        }
        if (seen.size() > PurgeChoices.AT_MOST) {
            throw new BadRequest(
                    "databases", "names " + seen.size() + "; a list takes at most " + PurgeChoices.AT_MOST);
        }
        return seen;
    }

    /** What is asked for is what was seen, and every proof of it holds. */
    private static void checkSeen(
            PurgeChoices.FleetChoice choice, List<Purges.Item> items, Set<String> leftOut, String seen) {
        leftOut.stream()
                .filter(key -> choice.parts().stream().noneMatch(p -> p.keys().contains(key)))
                .findFirst()
                .ifPresent(key -> {
                    throw new Conflict(
                            "Nothing that may go is called " + key + ", so it cannot be left out.",
                            "Look again: facts may have come in meanwhile.");
                });
        if (items.isEmpty()) {
            throw new BadRequest("leftOut", "leaves nothing to purge");
        }
        if (!ChoiceMark.of(items).equals(seen)) {
            throw new Conflict(
                    "What was looked at is not what is known now: " + items.size() + " copies may go.",
                    "Look again, and ask for what you see.");
        }
        List<String> flaws = choice.parts().stream()
                .flatMap(p -> p.proof().flaws().stream().map(f -> p.database().name() + ": " + ProofWords.of(f)))
                .toList();
        if (!flaws.isEmpty()) {
            throw new BadRequest("leftOut", "is to name more: " + flaws.get(0));
        }
    }

    /** Keeps a list, unless another has copies of it by now, or one of its copies may not go any more; then what else is to be done. */
    private String kept(Purges.Purge purge, List<Purges.Item> placed, Doing then) {
        Map<String, Object> detail = Map.of(
                "hash", purge.hash(),
                "copies", placed.size(),
                "bytes", placed.stream().mapToDouble(Purges.Item::bytes).sum(),
                "store", purge.store().orElse(""),
                "reason", purge.reason(),
                "approvals", purge.approvals());
        return purges().act("The purge could not be asked for", steps -> {
            Map<Purges.Listed, String> listed = steps.listed();
            placed.stream()
                    .map(i -> listed.get(new Purges.Listed(i.backup(), i.store())))
                    .filter(Objects::nonNull)
                    .findFirst()
                    .ifPresent(other -> {
                        throw new Conflict(
                                "The list " + other + ", asked for meanwhile, has copies of this one.",
                                "Look again: what it has is left out.");
                    });
            reproof.dropped(placed).stream().findFirst().ifPresent(dropped -> {
                throw new Conflict(
                        placed.get(dropped.num() - 1).backup() + " may not go any more: " + dropped.told() + ".",
                        "Look again, and ask for what you see.");
            });
            steps.ask(purge, placed, told("purge-asked", purge.id(), detail));
            then.with(steps, purge);
            return purge.id();
        });
    }

    /** The items that go; where each lies is not yet looked up. */
    static List<Purges.Item> items(PurgeChoices.FleetChoice choice, Set<String> leftOut) {
        List<Purges.Item> out = new ArrayList<>();
        for (PurgeChoices.DatabaseChoice part : choice.parts()) {
            for (PurgeChoices.Going g : part.going()) {
                out.add(new Purges.Item(
                        out.size() + 1,
                        part.database().id(),
                        g.backup(),
                        g.kind(),
                        g.store(),
                        "",
                        g.bytes(),
                        "",
                        g.landed(),
                        g.why(),
                        ItemState.WAITING,
                        "",
                        OptionalDouble.empty(),
                        Optional.empty(),
                        ""));
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
    private int approvals(PurgeChoices.FleetChoice choice, List<Purges.Item> items) {
        Set<String> concerned = items.stream().map(Purges.Item::database).collect(java.util.stream.Collectors.toSet());
        Map<String, Integer> asked = reproof.approvalsByPolicy();
        return choice.parts().stream()
                .filter(p -> concerned.contains(p.database().id()))
                .mapToInt(p -> p.version()
                        .map(v -> asked.getOrDefault(v.id() + " " + v.version(), 1))
                        .orElse(1))
                .max()
                .orElse(1);
    }

    /** Approves a list another asked for; what is no longer safe drops out with the reason. */
    void approve(String id, String seen) {
        acting(id, "The approval could not be kept", (steps, purge) -> {
            demand(purge, "approved", PurgeState.ASKED);
            if (purge.askedBy().equals(who.id())) {
                throw Refused.notYours("Whoever asks for a purge cannot approve it.", "Let another person look at it.");
            }
            Map<String, Instant> approvals = steps.approvals(id);
            if (approvals.containsKey(who.id())) {
                throw Refused.notYours("You approved it already.", "It waits for another person.");
            }
            if (!purge.hash().equals(seen)) {
                throw new Conflict("The list is not the one that was looked at.", "Look at it again.");
            }
            List<Purges.Outcome> dropped = reproof.dropped(steps.items(id));
            boolean last = approvals.size() + 1 >= purge.approvals();
            steps.approve(
                    purge,
                    who.id(),
                    last ? PurgeState.APPROVED : PurgeState.ASKED,
                    dropped,
                    told("purge-approved", id, Map.of("hash", purge.hash(), "dropped", dropped.size())),
                    lookout.now());
        });
    }

    void carryOut(String id) {
        acting(id, "The purge could not be begun", (steps, purge) -> {
            demand(purge, "carried out", PurgeState.APPROVED, PurgeState.PAUSED);
            Deed.Told told = told("purge-begun", id, Map.of("hash", purge.hash()));
            steps.turn(purge, PurgeState.RUNNING, "", told, lookout.now());
        });
    }

    void pause(String id) {
        purges().change("The purge could not be paused", steps -> {
            Purges.Purge purge = known(steps, id);
            demand(purge, "paused", PurgeState.RUNNING);
            steps.turn(purge, PurgeState.PAUSED, "", told("purge-paused", id, Map.of()), lookout.now());
        });
    }

    /** Nothing more is deleted; items an agent has already may still be told of. */
    void cancel(String id) {
        purges().change("The purge could not be cancelled", steps -> {
            Purges.Purge purge = known(steps, id);
            demand(purge, "cancelled", PurgeState.ASKED, PurgeState.APPROVED, PurgeState.RUNNING, PurgeState.PAUSED);
            steps.turn(purge, PurgeState.CANCELLED, "", told("purge-cancelled", id, Map.of()), lookout.now());
        });
    }

    private static Purges.Purge known(Purges.Steps steps, String id) {
        return steps.find(id).orElseThrow(() -> new NotFound("There is no purge " + id + "."));
    }

    /** Something done with a list that is whole. */
    interface Doing {
        void with(Purges.Steps steps, Purges.Purge purge);
    }

    /**
     * Acts on a list in one transaction; one that was altered is stopped for good instead.
     *
     * @throws Refused where it was altered
     */
    void acting(String id, String failure, Doing doing) {
        Optional<String> flaw = purges().act(failure, steps -> {
            Purges.Purge purge = known(steps, id);
            String found = flaw(purge, steps.items(id));
            if (found.isEmpty()) {
                doing.with(steps, purge);
                return Optional.empty();
            }
            if (!purge.state().isOver()) {
                String detail = PurgeChoices.json(Map.of("why", found, "hash", purge.hash()));
                Deed.Told told = new Deed.Told(Who.FIRTH, "purge-stopped", id, detail);
                steps.turn(purge, PurgeState.STOPPED, found, told, lookout.now());
            }
            return Optional.of(found);
        });
        if (flaw.isPresent()) {
            throw altered(flaw.get());
        }
    }

    private static void demand(Purges.Purge purge, String what, PurgeState... states) {
        if (!Set.of(states).contains(purge.state())) {
            throw new Conflict(
                    "The list " + purge.id() + " is " + purge.state().word() + " and cannot be " + what + ".",
                    "Look at it again: somebody may have changed it meanwhile.");
        }
    }

    private static Refused altered(String flaw) {
        return Refused.notYours(
                "The list was altered since it was asked for: " + flaw + ".",
                "Ask for a new one; the record says who did what.");
    }

    /** @throws Refused where the list was altered, which stops it for good */
    void checkWhole(String id) {
        acting(id, "The purge could not be looked at", (steps, purge) -> {});
    }

    /** What does not fit; empty where the list is whole. */
    String flaw(Purges.Purge purge, List<Purges.Item> items) {
        if (!Seal.of(purge.proof(), items).equals(purge.hash())) {
            return "its items or its proof are not those it was sealed with";
        }
        boolean recorded = facts.store().deeds().about(purge.id(), "purge-asked").stream()
                .anyMatch(d -> d.detail().contains("\"" + purge.hash() + "\""));
        return recorded ? "" : "the record has no list with its seal";
    }

    private Deed.Told told(String act, String purge, Map<String, ?> detail) {
        return new Deed.Told(who.id(), act, purge, PurgeChoices.json(new TreeMap<>(detail)));
    }
}
