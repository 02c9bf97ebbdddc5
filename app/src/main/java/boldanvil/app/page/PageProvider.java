package boldanvil.app.page;

/** Makes a page for the window; a jar of its own names it in {@code META-INF/services}. */
public interface PageProvider {
    Page of(PageHost host);
}
