package firth.core.history;

import firth.core.model.Backup;
import firth.core.model.Copy;
import firth.core.model.Outcome;
import firth.core.model.Run;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** What a later statement about a known run or backup changes (docs/exchange.md, "What a second line changes"). */
public final class Merging {

    private Merging() {}

    /** The later statement replaces the earlier, but a run that has ended does not run again. */
    public static Run merge(Run known, Run said) {
        boolean ended = known.outcome() != Outcome.RUNNING;
        return ended && said.outcome() == Outcome.RUNNING ? known : said;
    }

    /** The later statement replaces the earlier; copies it does not mention stay, {@code verified} never moves back. */
    public static Backup merge(Backup known, Backup said) {
        Map<String, Copy> copies = new LinkedHashMap<>();
        known.copies().forEach(c -> copies.put(c.store(), c));
        said.copies().forEach(c -> copies.merge(c.store(), c, Merging::merge));
        return said.with(List.copyOf(copies.values()), later(known.verified(), said.verified()));
    }

    /** What merging did to a known run. */
    public static Catalog.Change change(Run known, Run merged) {
        boolean turned = known.kind() != merged.kind() || !known.database().equals(merged.database());
        return known.equals(merged) ? Catalog.Change.UNCHANGED : changed(turned);
    }

    /** What merging did to a known backup; the order of its copies says nothing. */
    public static Catalog.Change change(Backup known, Backup merged) {
        boolean same = Set.copyOf(known.copies()).equals(Set.copyOf(merged.copies()))
                && known.withCopies(List.of()).equals(merged.withCopies(List.of()));
        boolean turned = known.kind() != merged.kind() || !known.database().equals(merged.database());
        return same ? Catalog.Change.UNCHANGED : changed(turned);
    }

    private static Catalog.Change changed(boolean turned) {
        return turned ? Catalog.Change.TURNED : Catalog.Change.UPDATED;
    }

    static Copy merge(Copy known, Copy said) {
        if (said.landed().isBefore(known.landed())) {
            return known;
        }
        if (said.landed().isAfter(known.landed()) && landedAnew(known, said)) {
            return said;
        }
        return new Copy(
                said.store(),
                said.landed(),
                said.statedLanding(),
                later(known.lockedUntil(), said.lockedUntil()),
                said.gone().or(known::gone),
                said.spoiled().or(known::spoiled),
                said.bytes(),
                said.evidence(),
                said.rest());
    }

    private static boolean landedAnew(Copy known, Copy said) {
        return known.gone().filter(said.landed()::isAfter).isPresent()
                || known.spoiled().filter(s -> said.landed().isAfter(s.found())).isPresent();
    }

    private static Optional<Instant> later(Optional<Instant> a, Optional<Instant> b) {
        return a.isEmpty() ? b : b.isEmpty() || a.get().isAfter(b.get()) ? a : b;
    }
}
