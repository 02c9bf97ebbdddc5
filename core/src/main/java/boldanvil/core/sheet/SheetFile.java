package boldanvil.core.sheet;

import boldanvil.core.diagram.Part;
import boldanvil.core.edit.Paths;
import boldanvil.core.report.PdfBook;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Sheets as drawings in files. */
public final class SheetFile {
    private static final double MARGIN = 30;

    private SheetFile() {}

    /** Everything on a sheet with room around it. */
    public static Box frame(SheetScene scene, Routes routes) {
        List<Box> all = new ArrayList<>(List.of(scene.bounds()));
        routes.ways().values().forEach(way -> all.add(Box.aroundPoints(way)));
        return Box.around(all).grown(MARGIN);
    }

    /** A sheet as SVG. */
    public static String svg(SheetScene scene, FontWidths fonts, boolean night) {
        Routes routes = Routes.of(scene);
        Box f = frame(scene, routes);
        var pen = new SvgPen(fonts, night, f);
        new SheetPainter(pen, 1).sheet(scene, routes);
        return pen.done();
    }

    /** Adds a sheet as a page. */
    public static void pdf(PdfBook book, String title, SheetScene scene) throws IOException {
        Routes routes = Routes.of(scene);
        Box f = frame(scene, routes);
        book.add(title, f.width(), f.height(), (content, plain, bold, mono) ->
                new SheetPainter(new PdfPen(content, plain, bold, mono, f.x(), f.bottom()), 1).sheet(scene, routes));
    }

    /** All sheets of a project by their titles, the system sheet first. A sheet that several subsystems share is there once. */
    public static Map<String, SheetScene> all(SheetSource source) {
        Map<String, SheetScene> scenes = new LinkedHashMap<>();
        scenes.put(source.project().name(), SheetScene.system(source));
        Paths.of(source.project()).forEach((ref, paths) -> {
            if (!paths.isEmpty()) {
                String path = paths.getFirst();
                String part = source.project().part(ref.part()).map(Part::title).orElse(ref.part());
                String title = path.contains("/") ? part + path.substring(path.indexOf('/')).replace("/", " › ") : part;
                scenes.put(title, SheetScene.of(source, ref, path));
            }
        });
        return scenes;
    }
}
