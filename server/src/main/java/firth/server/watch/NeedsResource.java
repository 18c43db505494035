package firth.server.watch;

import firth.core.model.Kind;
import firth.server.evaluation.Lookout;
import firth.server.evaluation.Summaries;
import firth.server.platform.AskedWord;
import firth.server.platform.ListPart;
import firth.server.platform.Roles;
import firth.server.platform.SearchWords;
import jakarta.annotation.security.RolesAllowed;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** What still needs a backup, of which kind, by when, and what a restore would take today. */
@Path("/api/needs")
@RolesAllowed(Roles.VIEWER)
public class NeedsResource {

    private final Summaries summaries;
    private final NeedsPart part;
    private final Lookout lookout;

    NeedsResource(Summaries summaries, NeedsPart part, Lookout lookout) {
        this.summaries = summaries;
        this.part = part;
        this.lookout = lookout;
    }

    /**
     * @param words in databases and components; empty: all
     * @param kind of backup; empty: all
     */
    @GET
    public NeedsView needs(
            @QueryParam("asOf") @Nullable String asOf,
            @QueryParam("words") @Nullable String words,
            @QueryParam("kind") @Nullable String kind,
            @BeanParam ListPart stretch) {
        Lookout.View view = lookout.view(asOf, "");
        SearchWords wanted = SearchWords.of(words);
        Optional<Kind> one = AskedWord.given(Kind.class, "kind", kind);
        List<List<NeedsView.NeededBackup>> each = summaries.all(view, part).each();
        List<NeedsView.NeededBackup> found = each.stream()
                .flatMap(List::stream)
                .filter(n -> one.filter(k -> !k.word().equals(n.kind())).isEmpty())
                .filter(n -> wanted.areIn(Stream.of(n.name(), n.component())))
                .map(n -> n.by() == null ? n.dueBy(view.asOf()) : n)
                .sorted(Comparator.comparing(NeedsView.NeededBackup::by)
                        .thenComparing(NeedsView.NeededBackup::name)
                        .thenComparing(NeedsView.NeededBackup::kind))
                .toList();
        return new NeedsView(
                view.asOf(),
                (int) each.stream().filter(rows -> !rows.isEmpty()).count(),
                found.size(),
                (int) found.stream()
                        .filter(n -> !view.asOf().isBefore(Objects.requireNonNull(n.by())))
                        .count(),
                stretch.of(found));
    }
}
