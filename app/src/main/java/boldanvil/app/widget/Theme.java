package boldanvil.app.widget;

import boldanvil.core.sheet.Ink;
import boldanvil.core.user.Log;
import boldanvil.core.user.UserFolder;
import boldanvil.core.user.WholeFile;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import javafx.scene.paint.Color;
import javafx.scene.text.Font;

/** Colours and fonts for what is drawn on canvases; the style sheet has the same tokens for controls. */
public record Theme(boolean night) {
    public static final Theme DAY = new Theme(false);
    public static final Theme NIGHT = new Theme(true);

    private static final Map<String, Color> COLOURS = new ConcurrentHashMap<>();

    /** The colour of an ink. */
    public Color colour(Ink ink) {
        return COLOURS.computeIfAbsent(ink.hex(night), Color::web);
    }

    public Color paper() {
        return colour(Ink.PAPER);
    }

    public Color card() {
        return colour(Ink.CARD);
    }

    public Color ink() {
        return colour(Ink.INK);
    }

    public Color faint() {
        return colour(Ink.FAINT);
    }

    public Color rule() {
        return colour(Ink.RULE);
    }

    public Color ember() {
        return colour(Ink.EMBER);
    }

    public Color steel() {
        return colour(Ink.STEEL);
    }

    public Color moss() {
        return colour(Ink.MOSS);
    }

    public Color amber() {
        return colour(Ink.AMBER);
    }

    public Color madder() {
        return colour(Ink.MADDER);
    }

    private static final String SANS = "IBM Plex Sans";
    private static final String SEMI_BOLD = "IBM Plex Sans SemiBold";
    private static final String MONO = "IBM Plex Mono";

    /** Colour-blind-safe trace colours (after Wong, Points of view: Color blindness, Nature Methods 8, 2011), darkened. */
    private static final Color[] TRACES = {Color.web("#0B6AA2"), Color.web("#C2570C"), Color.web("#00795B"),
        Color.web("#A84A86"), Color.web("#7A6A00"), Color.web("#3D4852")};
    private static final Color[] NIGHT_TRACES = {Color.web("#6BB6E8"), Color.web("#F09A52"), Color.web("#4CC7A0"),
        Color.web("#DD94C2"), Color.web("#D8CB4A"), Color.web("#B8C2CC")};

    /**
     * Loads the fonts that ship with the application; once, before the first window. The toolkit makes a temporary copy of a font that does
     * not lie in a file of its own, and leaves it behind when the program is killed; so they are kept in the user's folder.
     */
    public static void loadFonts() {
        for (String file : new String[] {"IBMPlexSans_400Regular.ttf", "IBMPlexSans_600SemiBold.ttf", "IBMPlexMono_400Regular.ttf"}) {
            try (var in = Theme.class.getResourceAsStream("/boldanvil/app/fonts/" + file)) {
                byte[] font = in.readAllBytes();
                Optional<Path> kept = kept(file, font);
                if (kept.isPresent()) {
                    Font.loadFont(kept.get().toUri().toString(), 12);
                } else {
                    Font.loadFont(new ByteArrayInputStream(font), 12);
                }
            } catch (IOException e) {
                Log.ignored(Theme.class, e, "A font cannot be loaded; the fonts of the machine are used.");
            }
        }
    }

    private static Optional<Path> kept(String name, byte[] font) {
        Optional<Path> folder = UserFolder.find().map(f -> f.resolve("fonts"));
        if (folder.isEmpty()) {
            return folder;
        }
        Path file = folder.get().resolve(name);
        try {
            if (!Files.isRegularFile(file) || Files.size(file) != font.length) {
                Files.createDirectories(folder.get());
                WholeFile.write(file, beside -> Files.write(beside, font));
            }
            return Optional.of(file);
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    public static Font sans(double size) {
        return Font.font(SANS, size);
    }

    public static Font bold(double size) {
        return Font.font(SEMI_BOLD, size);
    }

    public static Font mono(double size) {
        return Font.font(MONO, size);
    }

    public Color trace(int i) {
        Color[] set = night ? NIGHT_TRACES : TRACES;
        return set[i % set.length];
    }
}
