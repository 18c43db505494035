package firth.server.sheets;

import firth.core.cover.Losses;
import firth.core.history.DatabaseFacts;
import firth.core.model.Database;
import firth.core.model.Fleet;
import firth.core.model.Hazard;
import firth.core.model.Kind;
import firth.core.restore.Planning;
import firth.core.restore.RestorePlan;
import firth.core.restore.Step;
import firth.core.restore.Way;
import firth.exchange.Told;
import firth.server.documents.Document;
import firth.server.evaluation.FleetNow;
import firth.server.restore.WayInFull;
import firth.store.Snapshot;
import firth.wording.Wording;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** Makes the page of one database for the day on which everything else, Firth too, is gone. */
final class SheetMaking {

    private static final DateTimeFormatter MOMENT =
            DateTimeFormatter.ofPattern("EEE d MMM uuuu HH:mm:ss", Locale.ENGLISH);
    private static final int LOGS = 12;

    private final FleetNow fleet;
    private final DatabaseFacts facts;
    private final Snapshot snapshot;
    private final Instant now;

    SheetMaking(FleetNow fleet, DatabaseFacts facts, Snapshot snapshot, Instant now) {
        this.fleet = fleet;
        this.facts = facts;
        this.snapshot = snapshot;
        this.now = now;
    }

    private static String hazard(Hazard hazard) {
        return switch (hazard) {
            case MISHAP -> "After a mishap";
            case SITE_LOSS -> "After loss of its site";
            case SABOTAGE -> "After sabotage: from locked copies alone";
        };
    }

    /** The stores its ways back are read from. */
    Set<String> stores() {
        Set<String> out = new TreeSet<>();
        for (Hazard hazard : Hazard.values()) {
            latest(hazard).ways().stream()
                    .limit(1)
                    .flatMap(w -> w.steps().stream())
                    .forEach(s -> out.add(s.store()));
        }
        return out;
    }

    private final Map<Hazard, RestorePlan> plans = new LinkedHashMap<>();

    RestorePlan latest(Hazard hazard) {
        return plans.computeIfAbsent(hazard, h -> {
            Fleet known = fleet.fleet();
            return new Planning(facts, known, now, h, Losses.NONE).everything();
        });
    }

    Document sheet() {
        Database d = facts.database();
        List<Document.Section> out = new ArrayList<>();
        out.add(new Document.Section("", new Document.Table(List.of("What", "Which"), about(d))));
        for (Hazard hazard : Hazard.values()) {
            out.add(new Document.Section(hazard(hazard), way(latest(hazard))));
        }
        return new Document(
                "Recovery sheet: " + d.name(),
                "As of " + moment(now) + ". Read every backup in this order; stop where it says.",
                out,
                "Written by Firth. A newer one may lie beside the backups, in recovery-sheets.");
    }

    private List<List<String>> about(Database d) {
        List<List<String>> rows = new ArrayList<>();
        rows.add(List.of(
                "Database",
                d.id() + (d.engine().isEmpty() ? "" : ", " + d.engine().get())));
        d.particulars().identity().ifPresent(i -> rows.add(List.of("Name in the engine", i)));
        d.particulars().host().ifPresent(h -> rows.add(List.of("Host", h + at(fleet.siteName(d.site())))));
        d.sizeBytes().ifPresent(b -> rows.add(List.of("Room it takes", Wording.bytes(b))));
        d.particulars().owner().ifPresent(o -> rows.add(List.of("Owner", o)));
        Set<String> keys = new TreeSet<>();
        for (Hazard hazard : Hazard.values()) {
            latest(hazard).ways().stream()
                    .limit(1)
                    .flatMap(w -> w.steps().stream())
                    .flatMap(s -> Told.key(snapshot.rest(s.backup())).stream())
                    .forEach(keys::add);
        }
        rows.add(List.of("Encryption keys", keys.isEmpty() ? "none recorded" : String.join(", ", keys)));
        return rows;
    }

    private static String at(String site) {
        return site.isEmpty() ? "" : " at " + site;
    }

    private List<Document.Part> way(RestorePlan plan) {
        Optional<Way> best = plan.ways().stream().findFirst();
        if (best.isEmpty()) {
            return List.of(new Document.Text("Nothing of it can be restored."));
        }
        Way way = best.get();
        List<Document.Part> out = new ArrayList<>();
        String takes = way.timeKnown() ? "about " + Wording.measured(way.time()) : "a time that is not known";
        out.add(new Document.Text("To " + moment(plan.target().orElseThrow()) + ", in " + takes + ", on lineage "
                + way.lineage() + "."
                + (way.config().isEmpty() ? " No backup of its configuration is known." : "")));
        List<List<String>> rows = new ArrayList<>();
        List<Step> before = new ArrayList<>(way.config());
        before.addAll(way.chain());
        before.forEach(s -> rows.add(row("" + (rows.size() + 1), s)));
        List<Step> logs = way.logs();
        for (int k = 0; k < logs.size(); k++) {
            if (logs.size() > LOGS && k == LOGS - 2) {
                rows.add(List.of(
                        "...", (logs.size() - LOGS + 1) + " more logs, each from where the one before ends", "", ""));
                k = logs.size() - 2;
            } else {
                rows.add(row("" + (before.size() + k + 1), logs.get(k)));
            }
        }
        out.add(new Document.Table(List.of("", "Backup", "Store", "Path"), rows));
        WayInFull.recipe(facts, way, Optional.empty(), snapshot).ifPresent(r -> {
            List<List<String>> lines = new ArrayList<>();
            r.lines().forEach(l -> lines.add(List.of("" + (lines.size() + 1), l)));
            out.add(new Document.Table(List.of("", "In the engine's own settings and commands"), lines));
        });
        return out;
    }

    private List<String> row(String number, Step s) {
        String what = s.kind() == Kind.LOG ? "log" : Wording.kindName(s.kind());
        String told = snapshot.copyTold(s.backup(), s.store());
        String sum = Told.checksum(told).map(c -> " " + c).orElse("");
        return List.of(
                number,
                what + " " + s.backup()
                        + s.stream()
                                .filter(x -> !x.equals("main"))
                                .map(x -> ", stream " + x)
                                .orElse(""),
                fleet.storeName(s.store()),
                Told.path(told).orElse("not told") + sum);
    }

    private String moment(Instant at) {
        ZoneId zone = facts.database().zone();
        return MOMENT.format(at.atZone(zone)) + " " + zone;
    }

    /**
     * What the page of its site says of a database.
     *
     * @param takes how long its restore from elsewhere takes, as far as that is known
     */
    record SiteRow(String site, String siteName, List<String> cells, Duration takes, Set<String> stores) {}

    Optional<SiteRow> siteRow() {
        Database d = facts.database();
        Optional<Way> way = latest(Hazard.SITE_LOSS).ways().stream().findFirst();
        Set<String> stores = new TreeSet<>();
        way.ifPresent(w -> w.steps().forEach(s -> stores.add(s.store())));
        return d.site()
                .map(site -> new SiteRow(
                        site,
                        fleet.siteName(d.site()),
                        List.of(
                                d.name(),
                                way.map(Way::tip).orElse("nothing is left elsewhere"),
                                String.join(
                                        ", ",
                                        stores.stream().map(fleet::storeName).toList()),
                                way.filter(Way::timeKnown)
                                        .map(Way::time)
                                        .map(Wording::measured)
                                        .orElse(""),
                                d.particulars().owner().orElse("")),
                        way.map(Way::time).orElse(Duration.ZERO),
                        stores));
    }

    /** The page of a site: its databases, each with where to begin. */
    static Document ofSite(List<SiteRow> databases, Instant now) {
        Duration all = databases.stream().map(SiteRow::takes).reduce(Duration.ZERO, Duration::plus);
        return new Document(
                "Recovery sheet of a site: " + databases.get(0).siteName(),
                "As of " + now + ". What to do with each of its databases when the site is gone.",
                List.of(new Document.Section(
                        "",
                        new Document.Text("One after the other they take " + Wording.measured(all)
                                + ", as far as is known. Each has a sheet of its own with every path."),
                        new Document.Table(
                                List.of("Database", "Newest data backup", "From", "Takes", "Owner"),
                                databases.stream().map(SiteRow::cells).toList()))),
                "Written by Firth.");
    }
}
