package firth.core.forecast;

import firth.core.adherence.Slot;
import firth.core.adherence.SlotVerdict;
import firth.core.adherence.Slots;
import firth.core.history.DatabaseFacts;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Kind;
import firth.core.model.PolicyVersion;
import firth.core.model.Schedule;
import firth.core.time.Span;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/**
 * A slot to come and how its run will go, as the last runs of its kind on that weekday went.
 *
 * @param usual empty where there was none
 * @param store where the backup first comes to lie; empty where nothing says so
 * @param off whether it is switched off: it stands in the policy, and nothing will run
 */
public record Expected(Slot slot, Schedule schedule, Optional<Usual> usual, Optional<String> store, boolean off) {

    /** What is expected of a database in a stretch of time to come. */
    public static List<Expected> of(DatabaseFacts facts, Fleet fleet, Habits habits, Instant now, Span span) {
        List<Expected> out = new ArrayList<>(in(facts, fleet, habits, now, span, false));
        Database database = facts.database();
        Fleet on = switchedOn(database, fleet, span);
        if (on != fleet) {
            for (Expected e : in(facts, on, habits, now, span, true)) {
                if (out.stream()
                        .noneMatch(o -> o.slot.schedule().equals(e.slot.schedule())
                                && o.slot.open().equals(e.slot.open()))) {
                    out.add(e);
                }
            }
        }
        out.sort(Comparator.comparing(e -> e.slot.open()));
        return out;
    }

    /** The same fleet with everything in the database's policy switched on that is off; the fleet itself where nothing is. */
    private static Fleet switchedOn(Database database, Fleet fleet, Span span) {
        Optional<PolicyVersion> version = fleet.versionAt(database, span.from());
        boolean off = version.filter(v -> !v.enabled() || v.schedules().stream().anyMatch(s -> !s.enabled()))
                .isPresent();
        return off
                ? fleet.replaying(version.get()
                        .with(true)
                        .withSchedules(version.get().schedules().stream()
                                .map(s -> s.with(true))
                                .toList()))
                : fleet;
    }

    private static List<Expected> in(
            DatabaseFacts facts, Fleet fleet, Habits habits, Instant now, Span span, boolean off) {
        Database database = facts.database();
        return Slots.of(database, fleet, now, span, database.clock().stopped(), facts.closures(), List.of()).stream()
                .map(slot -> new Expected(
                        slot,
                        schedule(fleet, database, slot),
                        habits.usual(
                                slot.kind(), slot.open().atZone(database.zone()).getDayOfWeek()),
                        store(database, fleet, habits, slot.kind()),
                        off))
                .toList();
    }

    private static Schedule schedule(Fleet fleet, Database database, Slot slot) {
        return fleet.versionAt(database, slot.open()).orElseThrow().schedules().stream()
                .filter(s -> s.id().equals(slot.schedule()))
                .findFirst()
                .orElseThrow();
    }

    /** The first store of its route, or the one where its backups first lie. */
    private static Optional<String> store(Database database, Fleet fleet, Habits habits, Kind kind) {
        return fleet.route(database)
                .flatMap(r -> r.data().stream().findFirst())
                .or(() -> habits.landings(kind).stream()
                        .min(Comparator.comparing(Landing::after))
                        .map(Landing::store));
    }

    /** Whether a run is to be expected in it. */
    public boolean runs() {
        return !off && slot.verdict() != SlotVerdict.SUPERSEDED && slot.verdict() != SlotVerdict.EXCUSED;
    }

    /** What it will write, where that is known. */
    public Optional<Writing> writing(String who) {
        return usual.filter(u -> runs()
                        && store.isPresent()
                        && u.bytes() > 0
                        && u.median().toMillis() > 0)
                .map(u -> new Writing(
                        store.get(),
                        who,
                        slot.open(),
                        slot.open().plus(u.median()),
                        u.bytes() / (u.median().toMillis() / 1000.0)));
    }

    /** When it will be done if it goes as usual. */
    public Optional<Instant> ends() {
        return usual.map(u -> slot.open().plus(u.median()));
    }

    /** By how much it will overrun a window it must finish in, if it goes as usual; zero where it fits. */
    public Duration overrun() {
        return ends().filter(e -> schedule.mustFinish() && e.isAfter(slot.close()))
                .map(e -> Duration.between(slot.close(), e))
                .orElse(Duration.ZERO);
    }
}
