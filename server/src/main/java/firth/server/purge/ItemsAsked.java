package firth.server.purge;

import firth.store.Purges;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.QueryParam;
import org.jspecify.annotations.Nullable;

/** Which items of a list are asked for; what is absent may be anything. */
public final class ItemsAsked {

    @QueryParam("database")
    @Nullable
    String database;

    @QueryParam("store")
    @Nullable
    String store;

    @QueryParam("kind")
    @Nullable
    String kind;

    @QueryParam("state")
    @Nullable
    String state;

    /** Those with a higher number. */
    @QueryParam("after")
    @DefaultValue("0")
    int after;

    boolean has(Purges.Item i) {
        return i.num() > after
                && fits(database, i.database())
                && fits(store, i.store())
                && fits(kind, i.kind())
                && fits(state, i.state().word());
    }

    private static boolean fits(@Nullable String wanted, String own) {
        return wanted == null || wanted.isEmpty() || wanted.equals(own);
    }
}
