package boldanvil.core.files;

import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.finding.FindingException;
import java.util.List;

/** Copied sheets as a text for the clipboard, in the form of a part file. */
public final class ClipText {
    private static final String ID = "clip";
    private static final int LONGEST = 4 << 20;

    private ClipText() {}

    /** @param sheets at least one; the first has what was copied, the others are bodies of subsystems */
    public static String write(List<Sheet> sheets) {
        return ProjectWriter.part(new Part(ID, "Copied blocks", Part.Kind.CONTROLLER, "1 ms", "100 us", "rk4", "float64", 0, 0, sheets));
    }

    /**
     * Reads copied sheets.
     *
     * @throws FindingException when the text is of another program, too long or broken
     */
    public static List<Sheet> read(String text) {
        if (text == null || text.length() > LONGEST || !text.startsWith("{") || !text.contains("\"part\": \"" + ID + "\"")) {
            throw FindingException.of("clipboard", "The clipboard does not hold copied blocks.", "Copy blocks on a sheet first.");
        }
        return ProjectReader.sheets(JsonFile.read(text, "clipboard", "part"));
    }
}
