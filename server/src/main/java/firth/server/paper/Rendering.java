package firth.server.paper;

import io.quarkus.qute.Engine;
import jakarta.enterprise.context.ApplicationScoped;

/** Writes sheets: as a page made for printing on A4 that needs nothing else, as Markdown, and as plain text. */
@ApplicationScoped
public class Rendering {

    private final Engine engine;

    Rendering(Engine engine) {
        this.engine = engine;
    }

    public String html(Sheet sheet) {
        return render("page.html", sheet);
    }

    public String markdown(Sheet sheet) {
        return render("markdown.txt", sheet);
    }

    public String text(Sheet sheet) {
        return render("plain.txt", sheet);
    }

    /** The parts of a sheet are of several sorts, so that templates are not checked against one type. */
    private String render(String template, Sheet sheet) {
        return engine.getTemplate("sheet/" + template).data("sheet", sheet).render();
    }
}
