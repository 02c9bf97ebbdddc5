package boldanvil.app.widget;

import boldanvil.core.stock.Family;
import boldanvil.core.user.Log;
import boldanvil.core.user.UserFolder;
import boldanvil.core.user.WholeFile;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import javafx.scene.paint.Color;
import javafx.scene.text.Font;

/** Colours and fonts for what is drawn on canvases; the style sheet has the same tokens for controls. */
public record Theme(Color paper, Color card, Color ink, Color faint, Color rule, Color ember, Color steel, Color moss,
        Color amber, Color madder, Color copper, boolean night) {
    public static final Theme DAY = new Theme(Color.web("#F4F1EA"), Color.web("#FCFAF5"), Color.web("#20252A"),
            Color.web("#6C7178"), Color.web("#D8D2C4"), Color.web("#B5451B"), Color.web("#2B5872"), Color.web("#2F7A4C"),
            Color.web("#A96F12"), Color.web("#A12A30"), Color.web("#9A5B33"), false);
    public static final Theme NIGHT = new Theme(Color.web("#1D2023"), Color.web("#262A2E"), Color.web("#E6E1D6"),
            Color.web("#9AA0A6"), Color.web("#3A4046"), Color.web("#E07A3F"), Color.web("#7FB2CF"), Color.web("#79B98F"),
            Color.web("#D9A550"), Color.web("#E0787D"), Color.web("#C98A5E"), true);

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

    /** The band of a family. The family is also written in details and stock; colour is not all there is. */
    public Color band(Family f) {
        return switch (f) {
            case SOURCE -> Color.web(night ? "#B7A77C" : "#8C7A44");
            case CALCULATION -> Color.web(night ? "#8FA3B5" : "#5A6F82");
            case LOGIC -> Color.web(night ? "#B79AC4" : "#7A5A8A");
            case LIMIT -> Color.web(night ? "#C99A8F" : "#99594B");
            case TIME -> Color.web(night ? "#7FB2CF" : "#2B5872");
            case PHYSICAL -> copper;
            case DRIVE -> Color.web(night ? "#D0B06A" : "#946B1E");
            case LANGUAGE -> Color.web(night ? "#9DB58A" : "#5B7A45");
            case TERMINAL -> Color.web(night ? "#79B9A8" : "#2C776A");
            case STRUCTURE -> faint;
        };
    }
}
