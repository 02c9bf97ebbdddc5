package boldanvil.core.sheet;

import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.edit.Paths;
import boldanvil.core.report.PdfBook;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Map;

/** Sheets as drawings in files. */
public final class SheetFile {
    private static final double MARGIN = 30;

    private SheetFile() {}

    /** Everything on a sheet with room around it: x, y, width and height. */
    public static double[] frame(SheetScene scene, Routes routes) {
        double[] b = scene.bounds();
        double left = b[0];
        double top = b[1];
        double right = b[0] + b[2];
        double bottom = b[1] + b[3];
        for (var way : routes.ways().values()) {
            for (var p : way) {
                left = Math.min(left, p.x());
                top = Math.min(top, p.y());
                right = Math.max(right, p.x());
                bottom = Math.max(bottom, p.y());
            }
        }
        return new double[] {left - MARGIN, top - MARGIN, right - left + 2 * MARGIN, bottom - top + 2 * MARGIN};
    }

    /** A sheet as SVG. */
    public static String svg(SheetScene scene, FontWidths fonts, boolean night) {
        Routes routes = Routes.of(WireRouter.route(scene));
        double[] f = frame(scene, routes);
        var pen = new SvgPen(fonts, night, f[0], f[1], f[2], f[3]);
        new SheetPainter(pen, 1).sheet(scene, routes);
        return pen.done();
    }

    /** Adds a sheet as a page. */
    public static void pdf(PdfBook book, String title, SheetScene scene) throws IOException {
        Routes routes = Routes.of(WireRouter.route(scene));
        double[] f = frame(scene, routes);
        book.add(title, f[2], f[3], (content, plain, bold, mono) ->
                new SheetPainter(new PdfPen(content, plain, bold, mono, f[0], f[1] + f[3]), 1).sheet(scene, routes));
    }

    /** All sheets of a project by their titles, the system sheet first. A sheet that several subsystems share is there once. */
    public static Map<String, SheetScene> all(SheetSource source) {
        Map<String, SheetScene> scenes = new LinkedHashMap<>();
        scenes.put(source.project().name(), SheetScene.system(source));
        Paths.of(source.project()).forEach((SheetRef ref, java.util.List<String> paths) -> {
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
