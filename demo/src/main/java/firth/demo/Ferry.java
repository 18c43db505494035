package firth.demo;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Predicate;

/**
 * One simulated database: what it is and what befell it. Starts healthy; each method adds a misfortune and returns the
 * same database. Predicates take the moment a log ended or a data backup was due.
 */
final class Ferry {

    /** The three policies of the fleet. */
    enum Rules {
        SAILINGS,
        SHORE_OFFICE,
        KIOSKS;

        String id() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    final String id;
    final String engine;
    final String site;
    final Rules rhythm;
    final double gigabytes;
    boolean assigned = true;
    Duration inService = Duration.ofDays(60);
    Predicate<Instant> logLost = t -> false;
    Predicate<Instant> logFails = t -> false;
    Predicate<Instant> dataFails = t -> false;
    String message = "";
    Duration farLag;
    Duration lock;
    Optional<Duration> goneAfter = Optional.empty();
    Predicate<Instant> fullDeleted = t -> false;
    Predicate<Instant> fullLocked = t -> false;
    Predicate<Instant> spoiled = t -> false;
    boolean closedWeekends;
    double weeklyGrowth;
    Optional<Instant> fullByHand = Optional.empty();
    Optional<String> standby = Optional.empty();
    Instant standbyFull = Instant.EPOCH;
    Predicate<Instant> slow = t -> false;
    Instant unencryptedSince = Instant.MAX;
    List<String> parts = List.of();
    List<String> partsLeftOut = List.of();
    private Optional<String> moved = Optional.empty();

    Ferry(String id, String engine, String site, Rules rhythm, double gigabytes) {
        this.id = id;
        this.engine = engine;
        this.site = site;
        this.rhythm = rhythm;
        this.gigabytes = gigabytes;
        this.farLag = Duration.ofMinutes(rhythm == Rules.SAILINGS ? 12 : 40);
        this.lock = rhythm == Rules.SAILINGS ? Duration.ofDays(30) : Duration.ZERO;
    }

    Ferry inServiceFor(Duration time) {
        inService = time;
        return this;
    }

    /** Backed up by habit, but nobody assigned it a policy. */
    Ferry withoutPolicy() {
        assigned = false;
        return this;
    }

    /** Logs of a stretch were never backed up. */
    Ferry losingLogs(Instant from, Instant to) {
        logLost = t -> t.isAfter(from) && !t.isAfter(to);
        return this;
    }

    Ferry fullByHandAt(Instant moment) {
        fullByHand = Optional.of(moment);
        return this;
    }

    Ferry failing(Predicate<Instant> logs, Predicate<Instant> data, String why) {
        logFails = logs;
        dataFails = data;
        message = why;
        return this;
    }

    /** How long copies take to the far store, and for how long they are locked there. */
    Ferry copying(Duration lag, Duration locked) {
        farLag = lag;
        lock = locked;
        return this;
    }

    /** Everything older was deleted by age, whatever hung from it. */
    Ferry deletedByAge(Duration age) {
        goneAfter = Optional.of(age);
        return this;
    }

    /** A full was deleted a day after it was taken, behind the catalog's back. */
    /** Fulls so long ago are locked for some days to come where they lie near, though no rule needs them. */
    Ferry lockingFull(Predicate<Instant> taken) {
        fullLocked = taken;
        return this;
    }

    Ferry losingFull(Predicate<Instant> taken) {
        fullDeleted = taken;
        return this;
    }

    /** Near copies of some logs turned out to be corrupt. */
    Ferry spoiling(Predicate<Instant> logs) {
        spoiled = logs;
        return this;
    }

    /** Its backups grow by a share of their present size each week. */
    Ferry growing(double share) {
        weeklyGrowth = share;
        return this;
    }

    /** A store hardly took what its data backups of a night wrote. */
    Ferry slowedBetween(Instant from, Instant to) {
        slow = t -> t.isAfter(from) && t.isBefore(to);
        return this;
    }

    /** Its backups are not encrypted any more. */
    Ferry unencryptedSince(Instant moment) {
        unencryptedSince = moment;
        return this;
    }

    /** It has parts that can be restored by themselves; some of them are in no backup. */
    Ferry inParts(List<String> held, List<String> leftOut) {
        parts = held;
        partsLeftOut = leftOut;
        return this;
    }

    /** What it is part of with others. */
    String system() {
        return switch (rhythm) {
            case SAILINGS -> "reservations";
            case SHORE_OFFICE -> "back-office";
            case KIOSKS -> "ticketing";
        };
    }

    String owner() {
        return switch (rhythm) {
            case SAILINGS -> "Operations";
            case SHORE_OFFICE -> "Accounts";
            case KIOSKS -> "Sales";
        };
    }

    /** What the engine calls itself, whatever the name. */
    String identity() {
        return String.valueOf(7_400_000_000L + Math.floorMod(id.hashCode() * 31L, 99_999_999L));
    }

    /** Another machine follows it, from which a full was once taken by hand. */
    Ferry standingBy(String name, Instant full) {
        standby = Optional.of(name);
        standbyFull = full;
        return this;
    }

    /** The machine it runs on. */
    String host() {
        return moved.orElse(site + "-" + (1 + Math.floorMod(id.hashCode(), 3)));
    }

    /** It was put on another machine. */
    Ferry on(String host) {
        moved = Optional.of(host);
        return this;
    }

    String route() {
        return site.equals("southquay") ? site : rhythm == Rules.SAILINGS ? "northquay-deep" : "northquay";
    }

    Ferry closedAtWeekends() {
        closedWeekends = true;
        return this;
    }
}
