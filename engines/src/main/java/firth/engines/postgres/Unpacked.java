package firth.engines.postgres;

import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalLong;

/**
 * What the tar files of a base backup held, on one line, as it is kept until one of them changes.
 *
 * @param label its file of that name
 * @param wrong what contradicts its manifest; empty where nothing does
 */
record Unpacked(String label, OptionalLong system, List<String> logs, String wrong) {

    private static final String NONE = "-";
    private static final int LOGS = 3;

    Unpacked {
        logs = List.copyOf(logs);
    }

    String text() {
        List<String> out = new ArrayList<>();
        out.add(URLEncoder.encode(label, StandardCharsets.UTF_8));
        out.add(system.isPresent() ? Long.toString(system.getAsLong()) : NONE);
        out.add(NONE + URLEncoder.encode(wrong, StandardCharsets.UTF_8));
        logs.forEach(l -> out.add(URLEncoder.encode(l, StandardCharsets.UTF_8)));
        return String.join(" ", out);
    }

    static Unpacked parse(String line) {
        List<String> fields = List.of(line.split(" ", -1));
        return new Unpacked(
                decoded(fields.get(0)),
                fields.get(1).equals(NONE) ? OptionalLong.empty() : OptionalLong.of(Long.parseLong(fields.get(1))),
                fields.subList(LOGS, fields.size()).stream()
                        .map(Unpacked::decoded)
                        .toList(),
                decoded(fields.get(2).substring(NONE.length())));
    }

    private static String decoded(String field) {
        return URLDecoder.decode(field, StandardCharsets.UTF_8);
    }
}
