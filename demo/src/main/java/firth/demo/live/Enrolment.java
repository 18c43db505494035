package firth.demo.live;

import firth.exchange.link.FirthLink;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpRequest.BodyPublishers;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/** Tells Firth what there is and what is promised of it, with minutes where others have days. */
final class Enrolment {

    private static final int ROUND_MIN = 10;
    private static final int HOUR_MIN = 60;

    /** The first slot opens when the runner is there. */
    private static final int SOON_S = 75;

    private Enrolment() {}

    /** Waits until Firth answers, and tells it. */
    static void tell(URI address) throws IOException, InterruptedException, FirthLink.Refused {
        FirthLink link = new FirthLink(address, () -> "");
        String lines = String.join("\n", lines(Instant.now()));
        while (true) {
            try {
                link.ask(link.request("/api/import?source=live")
                        .header("content-type", "application/x-ndjson")
                        .POST(BodyPublishers.ofString(lines)));
                return;
            } catch (FirthLink.NotThere notYet) {
                Thread.sleep(500);
            }
        }
    }

    /** The fleet as lines of the exchange format, in service from a moment on. */
    static List<String> lines(Instant now) {
        String since = now.truncatedTo(ChronoUnit.SECONDS).toString();
        int first = now.plusSeconds(SOON_S).atZone(ZoneOffset.UTC).getMinute();
        return List.of(
                "{\"type\":\"site\",\"id\":\"northquay\",\"name\":\"Northquay\"}",
                "{\"type\":\"site\",\"id\":\"skerry\",\"name\":\"Skerry light\"}",
                "{\"type\":\"store\",\"id\":\"near\",\"name\":\"Quay near\",\"site\":\"northquay\",\"medium\":\"disk\",\"role\":\"near\"}",
                "{\"type\":\"store\",\"id\":\"far\",\"name\":\"Skerry far\",\"site\":\"skerry\",\"medium\":\"disk\",\"role\":\"far\"}",
                "{\"type\":\"route\",\"id\":\"pier\",\"data\":[\"near\"],\"log\":[\"near\"],\"copies\":[\"far\"]}",
                policy(
                        "tideline",
                        "Tideline",
                        since,
                        "{\"mishap\":\"PT3M\",\"siteLoss\":\"PT10M\",\"reach\":\"PT30M\",\"restoreTime\":\"PT10M\",\"drillEvery\":\"PT15M\"}",
                        schedule("fulls", "full", first, ROUND_MIN / 2)
                                + ",{\"id\":\"logs\",\"kind\":\"log\",\"every\":\"PT20S\"}"),
                policy(
                        "moorings",
                        "Moorings",
                        since,
                        "{\"mishap\":\"PT3M\",\"siteLoss\":\"PT10M\",\"reach\":\"PT30M\",\"restoreTime\":\"PT10M\",\"drillEvery\":\"PT15M\"}",
                        schedule("fulls", "full", first, ROUND_MIN) + ","
                                + schedule("between", "incr", first + ROUND_MIN / 2, ROUND_MIN)
                                + ",{\"id\":\"logs\",\"kind\":\"log\",\"every\":\"PT20S\"}"),
                policy(
                        "sheds",
                        "Sheds",
                        since,
                        "{\"mishap\":\"PT3M\",\"siteLoss\":\"PT10M\",\"reach\":\"PT30M\",\"restoreTime\":\"PT10M\",\"drillEvery\":\"PT15M\"}",
                        schedule("fulls", "full", first + 1, ROUND_MIN / 2)
                                + ",{\"id\":\"logs\",\"kind\":\"log\",\"every\":\"PT20S\"}"),
                database(Pier.HARBOUR, "PostgreSQL", "tideline", since),
                database(Pier.BERTHS, "MariaDB", "moorings", since),
                database(Pier.SHEDS, "SQLite", "sheds", since));
    }

    /** One that opens every so many minutes of the hour, from a minute on. */
    private static String schedule(String id, String kind, int from, int every) {
        String minutes = IntStream.range(0, HOUR_MIN / every)
                .mapToObj(n -> (from + n * every) % HOUR_MIN)
                .sorted()
                .map(String::valueOf)
                .collect(Collectors.joining(","));
        return String.format(
                Locale.ROOT,
                "{\"id\":\"%s\",\"kind\":\"%s\",\"cron\":\"%s * * * *\",\"within\":\"PT4M\",\"grace\":\"PT1M\"}",
                id,
                kind,
                minutes);
    }

    private static String policy(String id, String name, String since, String objective, String schedules) {
        return "{\"type\":\"policy\",\"id\":\"" + id + "\",\"name\":\"" + name + "\",\"effectiveFrom\":\"" + since
                + "\",\"objective\":" + objective + ",\"schedules\":[" + schedules
                + "],\"retain\":[{\"role\":\"near\",\"reach\":\"PT30M\",\"fulls\":2,\"logs\":true},"
                + "{\"role\":\"far\",\"reach\":\"PT30M\",\"fulls\":2,\"logs\":true}],"
                + "\"copies\":{\"stores\":2,\"offsite\":1},\"purgeApprovals\":1}";
    }

    private static String database(String id, String engine, String policy, String since) {
        return "{\"type\":\"database\",\"id\":\"" + id + "\",\"name\":\"" + id + "\",\"engine\":\"" + engine
                + "\",\"site\":\"northquay\",\"host\":\"pier\",\"zone\":\"UTC\",\"policy\":\"" + policy
                + "\",\"route\":\"pier\",\"inServiceFrom\":\"" + since + "\"}";
    }
}
