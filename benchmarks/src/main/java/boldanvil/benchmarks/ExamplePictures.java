package boldanvil.benchmarks;

import boldanvil.app.model.ImagePen;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.review.Review;
import boldanvil.core.sheet.SheetFile;
import boldanvil.core.sheet.SheetSource;
import java.awt.RenderingHints;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import javax.imageio.ImageIO;

/** The small pictures of the start page: a part of one sheet of each example. */
public final class ExamplePictures {
    private static final int WIDTH = 432;
    private static final int HEIGHT = 204;

    /** The sheet of each example that shows best what it is about. */
    private static final Map<String, String> SHEETS = Map.ofEntries(Map.entry("motor-position", "Position controller"),
            Map.entry("larkmere-lock", "Paddle controller › current loop"),
            Map.entry("gate-drive", "Gate controller"),
            Map.entry("beacon", "Lamps"),
            Map.entry("workboat", "Workboat"),
            Map.entry("paddle-modes", "Mode logic"),
            Map.entry("level-hold", "Model chamber with a valve"),
            Map.entry("lock-sequence", "Lock sequence"),
            Map.entry("lamp-charger", "Panel, converter and battery"),
            Map.entry("gate-network", "Inverter, servo and gate"),
            Map.entry("lift-platform", "Pump, valve, cylinder and platform"),
            Map.entry("shore-plants", "Shore rectifier"),
            Map.entry("paddle-network", "Paddle drive › power"));

    /** Where the picture begins in a sheet that does not begin with what it is about, as a share of its width; it then shows the middle. */
    private static final Map<String, Double> FROM = Map.of("paddle-network", 0.24, "gate-network", 0.3, "lock-sequence", 0.33);

    private ExamplePictures() {}

    /** Writes a picture of each project of a folder. */
    static void write(Path demos, Path target) throws IOException {
        Files.createDirectories(target);
        for (var e : SHEETS.entrySet()) {
            var scenes = SheetFile.all(SheetSource.of(Review.of(ProjectReader.read(demos.resolve(e.getKey())))));
            var scene = scenes.getOrDefault(e.getValue(), scenes.values().stream().skip(1).findFirst().orElseThrow());
            BufferedImage whole = ImagePen.image(scene, 1.4);
            double scale = Math.max(0.62, Math.max((double) WIDTH / whole.getWidth(), (double) HEIGHT / whole.getHeight()));
            var picture = new BufferedImage(WIDTH, HEIGHT, BufferedImage.TYPE_INT_RGB);
            var g = picture.createGraphics();
            g.setRenderingHint(RenderingHints.KEY_INTERPOLATION, RenderingHints.VALUE_INTERPOLATION_BICUBIC);
            Double from = FROM.get(e.getKey());
            int x = from == null ? 0 : (int) (-from * whole.getWidth() * scale);
            int y = from == null ? 0 : (int) ((HEIGHT - whole.getHeight() * scale) / 2);
            g.drawImage(whole, x, y, (int) (whole.getWidth() * scale), (int) (whole.getHeight() * scale), null);
            g.dispose();
            ImageIO.write(picture, "png", target.resolve(e.getKey() + ".png").toFile());
        }
    }
}
