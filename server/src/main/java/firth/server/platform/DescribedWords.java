package firth.server.platform;

import firth.core.adherence.SlotVerdict;
import firth.core.cover.Gap;
import firth.core.evaluation.Grade;
import firth.core.findings.Check;
import firth.core.findings.Finding;
import firth.core.findings.Needs;
import firth.core.findings.WayOut;
import firth.core.model.GivesWay;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.model.Outcome;
import firth.core.model.Role;
import firth.core.model.Trigger;
import firth.core.retention.Verdict;
import firth.core.stocktake.Difference;
import firth.store.ItemState;
import firth.store.PurgeState;
import io.quarkus.smallrye.openapi.OpenApiFilter;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.eclipse.microprofile.openapi.OASFilter;
import org.eclipse.microprofile.openapi.models.OpenAPI;
import org.eclipse.microprofile.openapi.models.media.Schema;

/** Says in the description of the API which words a field may hold: those of the core's enums, and of the views' own. */
@OpenApiFilter(OpenApiFilter.RunStage.BUILD)
public class DescribedWords implements OASFilter {

    private static final List<String> KINDS = words(Kind.values(), Kind::word);
    private static final List<String> VERDICTS = words(Verdict.values(), Verdict::word);
    private static final List<String> SLOT_VERDICTS = words(SlotVerdict.values(), SlotVerdict::word);
    private static final List<String> HAZARDS = words(Hazard.values(), Hazard::field);
    private static final List<String> ITEM_STATES = words(ItemState.values(), ItemState::word);
    private static final List<String> DECISIONS = List.of("drop", "adopt", "remove", "undo");
    private static final List<String> CHECK_STATES = words(Check.State.values(), Check.State::word);

    /** By field, or by schema and field where a field of that name holds other words there; none: any text. */
    private static final Map<String, List<String>> WORDS = Map.ofEntries(
            Map.entry("kind", KINDS),
            Map.entry("Line.kind", with(with(KINDS, "drill"), "restore")),
            Map.entry("KnownId.kind", List.of()),
            Map.entry("ComponentView.kind", List.of()),
            Map.entry("LineView.kind", List.of()),
            Map.entry("Group.kind", List.of()),
            Map.entry("Moment.kind", List.of()),
            Map.entry("grade", words(Grade.values(), Grade::word)),
            Map.entry("GradedDatabase.grade", with(words(Grade.values(), Grade::word), "")),
            Map.entry("Grades.grade", List.of()),
            Map.entry("severity", words(Finding.Severity.values(), Finding.Severity::word)),
            Map.entry("urgency", words(Finding.Urgency.values(), Finding.Urgency::word)),
            Map.entry("verdict", VERDICTS),
            Map.entry("SlotOf.verdict", SLOT_VERDICTS),
            Map.entry("Line.verdict", SLOT_VERDICTS),
            Map.entry("SlotView.verdict", SLOT_VERDICTS),
            Map.entry("hazard", HAZARDS),
            Map.entry("Channel.hazard", List.of()),
            Map.entry("cause", words(Gap.Cause.values(), Gap.Cause::word)),
            Map.entry("GapInfo.cause", with(words(Gap.Cause.values(), Gap.Cause::word), "logs-stopped")),
            Map.entry("role", words(Role.values(), Role::word)),
            Map.entry("trigger", words(Trigger.values(), Trigger::word)),
            Map.entry("Line.outcome", words(Outcome.values(), Outcome::word)),
            Map.entry("CheckView.item", words(Check.Item.values(), Check.Item::word)),
            Map.entry("CheckView.state", CHECK_STATES),
            Map.entry("ReadyView.state", CHECK_STATES),
            Map.entry("ReadySummary.state", CHECK_STATES),
            Map.entry("Way.action", words(WayOut.Action.values(), WayOut.Action::word)),
            Map.entry("ComparedDatabase.manner", List.of("new", "changed", "unchanged", "refused")),
            Map.entry("VersionView.state", List.of("earlier", "in-force", "coming", "withdrawn")),
            Map.entry("DrillRow.state", List.of("proved", "due", "failed", "awaited", "none")),
            Map.entry("TakeView.state", List.of("asked", "taken", "refused")),
            Map.entry("FindView.state", List.of("open", "dropped", "adopted", "to-remove")),
            Map.entry("TokenView.state", List.of("good", "ended", "revoked")),
            Map.entry("PurgeList.state", words(PurgeState.values(), PurgeState::word)),
            Map.entry("ListRow.state", words(PurgeState.values(), PurgeState::word)),
            Map.entry("ItemView.state", ITEM_STATES),
            Map.entry("ItemTally.state", ITEM_STATES),
            Map.entry(
                    "LineView.kept",
                    List.of("locked", "held", "stay", "promised", "shared", "listed", "stranded", "coming")),
            Map.entry("Sent.state", List.of("waiting", "sending", "sent", "failed", "unknown")),
            Map.entry("Sent.way", List.of("mail", "webhook")),
            Map.entry("StoreRow.givesWay", words(GivesWay.values(), GivesWay::word)),
            Map.entry("NeededBackup.why", words(Needs.Why.values(), Needs.Why::word)),
            Map.entry("FindView.what", words(Difference.Manner.values(), Difference.Manner::word)),
            Map.entry("FindView.may", DECISIONS),
            Map.entry("Decided.what", DECISIONS),
            Map.entry("GapInfo.state", List.of("bridged", "unbridged", "open")),
            Map.entry("Place.state", List.of("there", "spoiled", "gone")),
            Map.entry("AttemptView.state", List.of("ok", "unsuccessful", "running")),
            Map.entry("SlotBar.state", List.of("planned", "superseded", "excused", "off")),
            Map.entry("DrillDone.outcome", List.of("proved", "unchecked", "failed", "untold")),
            Map.entry("StretchView.side", List.of("reading", "transport", "writing", "delivery")),
            Map.entry("StepView.what", List.of("began", "ended", "failed", "landed", "went", "found-spoiled")),
            Map.entry("RestoreRow.state", List.of("under way", "done", "given up")),
            Map.entry("attention", List.of("clone", "unknown-policy", "no-policy", "two-rules")));

    private static <E> List<String> words(E[] values, Function<E, String> word) {
        return Arrays.stream(values).map(word).toList();
    }

    private static List<String> with(List<String> words, String more) {
        List<String> out = new ArrayList<>(words);
        out.add(more);
        return out;
    }

    /** The words a field of a schema may hold; none where it may hold any text. */
    public static List<String> of(String schema, String field) {
        return WORDS.getOrDefault(schema + "." + field, WORDS.getOrDefault(field, List.of()));
    }

    @Override
    public void filterOpenAPI(OpenAPI api) {
        api.getComponents().getSchemas().forEach((name, schema) -> {
            // What people write may hold anything; what is wrong with it is said when it is read.
            if (schema.getProperties() != null && !name.endsWith("Document")) {
                schema.getProperties().forEach((field, own) -> describe(of(name, field), own));
            }
        });
    }

    private static void describe(List<String> words, Schema field) {
        List<Schema.SchemaType> types = field.getType();
        if (types != null && types.contains(Schema.SchemaType.ARRAY) && field.getItems() != null) {
            describe(words, field.getItems());
            return;
        }
        if (!words.isEmpty() && types != null && types.contains(Schema.SchemaType.STRING)) {
            List<Object> values = new ArrayList<>(words);
            if (types.contains(Schema.SchemaType.NULL)) {
                values.add(null);
            }
            field.setEnumeration(values);
        }
    }
}
