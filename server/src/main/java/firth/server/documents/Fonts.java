package firth.server.documents;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.Base64;
import java.util.Map;
import java.util.TreeMap;

/** The type of the web pages, for pages that are to stand alone: it comes with the bundle of the front end. */
@ApplicationScoped
class Fonts {

    private static final Map<String, String> FILES = new TreeMap<>(Map.of(
            "Firth text", "atkinson-hyperlegible-next-latin-wght-normal.woff2",
            "Firth heads", "newsreader-latin-wght-normal.woff2"));

    private final String css;

    Fonts() {
        StringBuilder out = new StringBuilder();
        FILES.forEach((family, file) -> out.append(face(family, file)));
        this.css = out.toString();
    }

    /** Rules for a style sheet, with the type in them. */
    String css() {
        return css;
    }

    private static String face(String family, String file) {
        try (InputStream in =
                Fonts.class.getClassLoader().getResourceAsStream("META-INF/resources/assets/app/" + file)) {
            if (in == null) {
                throw new IllegalStateException("The bundle of the front end has no " + file);
            }
            return "@font-face { font-family: \"" + family
                    + "\"; font-weight: 200 800; src: url(data:font/woff2;base64,"
                    + Base64.getEncoder().encodeToString(in.readAllBytes()) + ") format(\"woff2\"); }\n";
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
