package boldanvil.app.pages;

import boldanvil.app.bench.BenchPage;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.page.PageProvider;
import boldanvil.app.sheet.SheetPage;
import java.util.ArrayList;
import java.util.List;
import java.util.ServiceLoader;
import java.util.Set;

/** The pages of the window, in the order of the work. A new page is a class and a line here; a jar of its own
 * names a {@link PageProvider}. */
public final class AllPages {
    private AllPages() {}

    public static List<Page> of(PageHost host) {
        var bench = new BenchPage(host);
        var build = new BuildPage(host);
        var sheet = new SheetPage(host, path -> {
            int sent = bench.send(path);
            if (sent > 0) {
                host.show(bench);
            }
            return sent;
        }, path -> {
            host.show(build);
            build.showPlace(path);
        }, () -> bench.traces().cursorA());
        var loop = new LoopPage(host, () -> LoopPage.cut(host, sheet.canvas().selectedWires().stream().findFirst()));
        var runs = new RunsPage(host, bench::playback, sheet::show);
        List<Page> all = new ArrayList<>(List.of(sheet, loop, new PatchPage(host), new MappingPage(host), new TagsPage(host), build, bench,
                runs, new TrialsPage(host, id -> {
                    host.show(runs);
                    runs.show(Set.of(id));
                }, () -> {
                    sheet.toggleCoverage();
                    host.show(sheet);
                }), new VariablesPage(host)));
        ServiceLoader.load(PageProvider.class, AllPages.class.getClassLoader()).forEach(p -> all.add(p.of(host)));
        return all;
    }
}
