package firth.server.restore;

import firth.core.cover.Losses;
import firth.core.model.Hazard;
import firth.exchange.Texts;
import firth.server.platform.AskedWord;
import firth.server.platform.BadRequest;
import firth.wording.PositionWords;
import jakarta.ws.rs.QueryParam;
import java.time.Instant;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** What a plan is asked for with. */
public class PlanAsked {

    /** An RFC 3339 instant; absent: the latest that can be restored. */
    @QueryParam("moment")
    @Nullable
    String moment;

    /** Instead of a moment, {@code stream:position} for every stream, separated by commas; positions as whole numbers or as engines write them. */
    @QueryParam("positions")
    @Nullable
    String positions;

    /** The lineage the positions are of; absent: the newest. */
    @QueryParam("lineage")
    @Nullable
    String lineage;

    /** mishap, siteLoss or sabotage; absent: mishap. */
    @QueryParam("hazard")
    @Nullable
    String hazard;

    /** Stores that cannot be reached. */
    @QueryParam("store")
    List<String> stores = List.of();

    /** Sites that cannot be reached. */
    @QueryParam("site")
    List<String> sites = List.of();

    /** Copies that do not read, as {@code store|backup}. */
    @QueryParam("copy")
    List<String> copies = List.of();

    /** The one part that is to be restored. */
    @QueryParam("component")
    @Nullable
    String component;

    @QueryParam("asOf")
    @Nullable
    String asOf;

    private static Optional<String> given(@Nullable String text) {
        return Optional.ofNullable(text).filter(t -> !t.isEmpty());
    }

    Optional<Instant> moment() {
        return given(moment)
                .map(m -> Texts.instant(m)
                        .orElseThrow(() ->
                                new BadRequest("moment", "is not an RFC 3339 instant such as 2026-11-23T09:12:00Z")));
    }

    Hazard hazard() {
        return given(hazard).map(AskedWord::hazard).orElse(Hazard.MISHAP);
    }

    Optional<String> component() {
        return given(component);
    }

    Optional<String> lineage() {
        return given(lineage);
    }

    @Nullable
    String asOf() {
        return asOf;
    }

    Losses losses() {
        Set<Losses.LostCopy> lost = new HashSet<>();
        for (String copy : copies) {
            int bar = copy.indexOf('|');
            if (bar < 1) {
                throw new BadRequest("copy", "is not STORE|BACKUP");
            }
            lost.add(new Losses.LostCopy(copy.substring(bar + 1), copy.substring(0, bar)));
        }
        return new Losses(Set.copyOf(stores), Set.copyOf(sites), lost);
    }

    /** Positions by stream; none where a moment is asked for. */
    Map<String, Long> positions() {
        Map<String, Long> out = new LinkedHashMap<>();
        for (String one : given(positions).map(p -> p.split(",")).orElse(new String[0])) {
            int colon = one.indexOf(':');
            String stream = colon < 0 ? "" : one.substring(0, colon).strip();
            OptionalLong position = PositionWords.meant(one.substring(colon + 1).strip());
            if (stream.isEmpty() || position.isEmpty()) {
                throw new BadRequest(
                        "positions",
                        "has \"" + one + "\", which is not STREAM:POSITION, a position being " + PositionWords.FORMS);
            }
            out.put(stream, position.getAsLong());
        }
        return out;
    }
}
