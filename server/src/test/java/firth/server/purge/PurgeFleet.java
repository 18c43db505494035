package firth.server.purge;

import firth.server.DemoFleet;
import io.quarkus.test.junit.QuarkusTestProfile;
import java.util.List;

/** A server of its own over the demo fleet, so that what is purged is missed by nobody else. */
public class PurgeFleet implements QuarkusTestProfile {

    @Override
    public List<TestResourceEntry> testResources() {
        return List.of(new TestResourceEntry(DemoFleet.class));
    }
}
