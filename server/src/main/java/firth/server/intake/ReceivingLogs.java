package firth.server.intake;

import firth.core.history.Catalog;
import firth.core.model.Backup;
import firth.core.model.FleetRecord;
import firth.core.model.Run;
import java.time.Instant;

/** Lets a log that is still being received count up to when it was told of: that is its last sign, however far it is to reach. */
record ReceivingLogs(Catalog catalog, Instant now) implements Catalog {

    @Override
    public Change put(FleetRecord record, String document) {
        return catalog.put(record, document);
    }

    @Override
    public Change put(Run run, Replacing replacing) {
        return catalog.put(run, replacing);
    }

    @Override
    public Change put(Backup backup, Replacing replacing) {
        return catalog.put(backup.receivedUpTo(now), replacing);
    }
}
