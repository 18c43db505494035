package firth.server.cover;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import firth.server.platform.BadRequest;
import java.time.Instant;
import java.util.List;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What of the fleet is asked for, in which groups and order. */
class ArrangementTest {

    private static final Instant AT = Instant.parse("2026-11-23T09:12:00Z");

    private static Cover.Row row(String name, String policy, double age, Double objective, double reach, Double kept) {
        return new Cover.Row(
                name,
                name,
                name.equals("fuel") ? "" : "MariaDB 11",
                name.compareTo("m") < 0 ? "Northquay" : name.equals("moorings") ? "" : "Southquay",
                "UTC",
                policy == null ? null : new Cover.Policy(policy, policy, 1, true, "lose 4 h"),
                objective != null && age > objective ? "behind" : "covered",
                false,
                AT,
                AT,
                List.of(new Cover.HazardNow("mishap", null, age, true, objective, age, kept)),
                reach,
                null,
                null,
                null,
                name.equals("berths") ? "harbour office" : null,
                name.equals("berths") ? List.of("class: sailings", "tier: 1") : List.of("class: sailings"),
                List.of(),
                List.of(),
                List.of());
    }

    private static final List<Cover.Row> FLEET = List.of(
            row("tides", "Sailings", 100, 900.0, 5, 0.99),
            row("Berths", "Sailings", 2000, 900.0, 9, 1.0),
            row("berths", "Sailings", 1900, 900.0, 8, 1.0),
            row("fuel", "Shore office", 3600, 14_400.0, 7, 0.5),
            row("moorings", null, 9, null, 1, null));

    private static List<Arrangement.Grouped> arranged(Consumer<CoverAsked> change) {
        CoverAsked asked = new CoverAsked();
        change.accept(asked);
        return new Arrangement(asked, AT).of(FLEET);
    }

    private static List<String> names(Consumer<CoverAsked> change) {
        return arranged(change).stream()
                .flatMap(g -> g.rows().stream())
                .map(Cover.Row::name)
                .toList();
    }

    private static List<String> titles(Consumer<CoverAsked> change) {
        return arranged(change).stream().map(Arrangement.Grouped::title).toList();
    }

    @Test
    void standsByPolicyNoneFirstThenTheStrictestPromise() {
        assertEquals(List.of("No policy", "Sailings", "Shore office"), titles(asked -> {}));
        assertEquals(List.of("moorings", "Berths", "berths", "tides", "fuel"), names(asked -> {}));
    }

    @Test
    void theStrictestStandsFirstUnderTheHazardAskedFor() {
        assertEquals(
                List.of("Northquay", "Southquay", "no site"),
                titles(asked -> asked.by = "site"),
                "both promise 15 min after a mishap");
        assertEquals(List.of("engine not stated", "MariaDB 11"), titles(asked -> {
            asked.by = "engine";
            asked.hazard = "sabotage";
        }));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "name       | Berths berths fuel moorings tides",
                "age        | Berths berths fuel tides moorings",
                "reach      | moorings tides fuel berths Berths",
                "attainment | fuel tides Berths berths moorings"
            })
    void ordersWhatPromisesNothingLast(String order, String expected) {
        assertEquals(List.of(expected.split(" ")), names(asked -> {
            asked.by = "none";
            asked.order = order;
        }));
    }

    @Test
    void anAgeThatGrowsIsThatOfTheMomentLookedFrom() {
        assertEquals(-1, Arrangement.overObjective(FLEET.get(4), AT));
        assertEquals(100 / 900.0, Arrangement.overObjective(FLEET.get(0), AT), 1e-9);
        assertEquals(1000 / 900.0, Arrangement.overObjective(FLEET.get(0), AT.plusSeconds(900)), 1e-9);
    }

    @ParameterizedTest
    @ValueSource(strings = {"policy", "site", "engine", "none"})
    void losesNoDatabaseWhateverTheGrouping(String by) {
        assertEquals(FLEET.size(), names(asked -> asked.by = by).size());
    }

    @Test
    void needsEveryWordInANameOrInWhatTheDatabaseHas() {
        assertEquals(List.of("berths"), names(asked -> asked.words = "SAILINGS  harbour"));
        assertEquals(List.of("fuel"), names(asked -> asked.words = "shore"));
        assertEquals(List.of(), names(asked -> asked.words = "nowhere"));
    }

    @Test
    void goesByLabelOwnerGradePolicySiteAndEngineTogether() {
        assertEquals(List.of("berths"), names(asked -> asked.label = "owner: harbour office"));
        assertEquals(List.of("berths"), names(asked -> asked.label = "tier: 1"));
        assertEquals(List.of("moorings"), names(asked -> asked.policy = "no policy"));
        assertEquals(List.of("fuel"), names(asked -> asked.engine = "not stated"));
        assertEquals(List.of("Berths", "berths"), names(asked -> asked.grade = "behind"));
        assertEquals(List.of("moorings"), names(asked -> {
            asked.site = "no site";
            asked.grade = "covered";
        }));
        assertEquals(List.of(), names(asked -> {
            asked.site = "no site";
            asked.grade = "behind";
        }));
    }

    @Test
    void offersWhatThereIsWithHowManyHaveIt() {
        List<Cover.Choosable> choices = Arrangement.choices(FLEET);
        assertEquals(
                List.of("grade", "policy", "site", "engine", "label"),
                choices.stream().map(Cover.Choosable::trait).toList());
        assertEquals(
                List.of(
                        new Cover.Counted("class: sailings", 5),
                        new Cover.Counted("owner: harbour office", 1),
                        new Cover.Counted("tier: 1", 1)),
                choices.get(4).values());
    }

    @Test
    void saysWhatItDoesNotKnow() {
        assertEquals(
                "by is none of policy, site, engine, none",
                assertThrows(BadRequest.class, () -> titles(asked -> asked.by = "size"))
                        .getMessage());
        assertThrows(BadRequest.class, () -> titles(asked -> asked.order = "NAME"));
        assertThrows(BadRequest.class, () -> titles(asked -> asked.hazard = "flood"));
    }
}
