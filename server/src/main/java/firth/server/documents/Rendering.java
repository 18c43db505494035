package firth.server.documents;

import io.quarkus.qute.Engine;
import jakarta.enterprise.context.ApplicationScoped;

/** Writes sheets: as a page made for printing on A4 that needs nothing else, as Markdown, and as plain text. */
@ApplicationScoped
public class Rendering {

    private final Engine engine;
    private final Fonts fonts;

    Rendering(Engine engine, Fonts fonts) {
        this.engine = engine;
        this.fonts = fonts;
    }

    /** A page that looks like Firth wherever it is opened. */
    public String html(Document sheet) {
        return page(sheet, fonts.css());
    }

    /** A page in the type the reader has: for mails, and for what is kept again and again. */
    public String bare(Document sheet) {
        return page(sheet, "");
    }

    private String page(Document sheet, String css) {
        return engine.getTemplate("sheet/page.html")
                .data("sheet", sheet)
                .data("fonts", css)
                .render();
    }

    public String markdown(Document sheet) {
        return render("markdown.txt", sheet);
    }

    public String text(Document sheet) {
        return render("plain.txt", sheet);
    }

    /** The parts of a sheet are of several sorts, so that templates are not checked against one type. */
    private String render(String template, Document sheet) {
        return engine.getTemplate("sheet/" + template).data("sheet", sheet).render();
    }
}
