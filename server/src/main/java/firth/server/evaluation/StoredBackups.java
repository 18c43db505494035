package firth.server.evaluation;

import firth.core.findings.SharedPlace;
import firth.core.model.Backup;
import firth.core.model.Kind;
import firth.core.model.Traits;
import firth.exchange.Told;
import firth.exchange.ToldFindings;
import firth.store.Snapshot;
import java.time.Instant;
import java.util.Collection;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;

/** The backups of a database and its standbys, read as they are asked for. */
public record StoredBackups(Snapshot snapshot, List<String> members) implements ToldFindings.Backups {

    @Override
    public Collection<Backup> newestOfKinds(Instant by) {
        Map<Kind, Backup> newest = new EnumMap<>(Kind.class);
        for (String member : members) {
            for (Backup b : snapshot.newestOfKinds(member, by)) {
                newest.merge(b.kind(), b, (one, other) -> one.ended().isBefore(other.ended()) ? other : one);
            }
        }
        return newest.values();
    }

    @Override
    public List<SharedPlace> shared(Instant at) {
        return snapshot.sharedPlaces(at).stream()
                .filter(s -> members.stream().anyMatch(s::concerns))
                .toList();
    }

    @Override
    public Traits told(String backup) {
        return Told.traits(snapshot.rest(backup));
    }
}
