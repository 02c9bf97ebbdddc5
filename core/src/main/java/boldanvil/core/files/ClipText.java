package boldanvil.core.files;

import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Part;
import boldanvil.core.finding.FindingException;
import tools.jackson.databind.JsonNode;

/** Copied sheets as a text for the clipboard, in the form of a part file with the own blocks it uses. */
public final class ClipText {
    private static final String PLACE = "clipboard";
    private static final String ID = "clip";
    private static final int LONGEST = 4 << 20;

    private ClipText() {}

    /** @param clip a part with the id {@code clip}; its own sheet has what was copied, the others are bodies of subsystems */
    public static String write(Part clip) {
        var lines = ProjectWriter.lines(clip);
        if (!clip.library().all().isEmpty()) {
            lines.put("blocks", "[" + String.join(",\n", clip.library().all().stream().map(OwnBlockFile::write).toList()) + "]");
        }
        return lines.toString();
    }

    /**
     * Reads copied sheets.
     *
     * @throws FindingException when the text is of another program, too long or broken
     */
    public static Part read(String text) {
        if (text == null || text.length() > LONGEST || !text.startsWith("{") || !text.contains("\"part\": \"" + ID + "\"")) {
            throw FindingException.of(PLACE, "The clipboard does not hold copied blocks.", "Copy blocks on a sheet first.");
        }
        JsonNode n = JsonFile.read(text, PLACE, "part");
        Library own = Library.EMPTY;
        for (JsonNode b : n.path("blocks")) {
            own = own.with(OwnBlockFile.read(b, PLACE));
        }
        return new Part(ID, "Copied blocks", Part.Kind.CONTROLLER, "1 ms", "100 us", "rk4", "float64", 0, 0, ProjectReader.sheets(n),
                Look.PLAIN, own);
    }
}
