package boldanvil.core.export;

import boldanvil.core.diagram.Rig;
import boldanvil.core.iec.PlcOpenWriter;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.review.Review;
import boldanvil.core.text.PlcText;
import java.time.LocalDateTime;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;

/** A part as an exchange file of PLCopen. */
public final class PlcOpen implements Exporter {
    @Override
    public String id() {
        return "plcopen";
    }

    @Override
    public String title() {
        return "PLCopen XML (TC6 2.01)";
    }

    @Override
    public List<GeneratedFile> files(Review review, Rig rig, String part) {
        // What was drawn as blocks stays a diagram; a program that was written stays a text.
        String text = new StText().files(review, rig, part).getFirst().text();
        return List.of(new GeneratedFile(part + ".xml", xml(text, part, !rig.place(part).own()), Map.of()));
    }

    /** A text as an exchange file, made now. */
    public static String xml(String text, String name) {
        return xml(text, name, false);
    }

    private static String xml(String text, String name, boolean diagrams) {
        String time = LocalDateTime.now().truncatedTo(ChronoUnit.SECONDS).toString();
        String seconds = time.length() == "2026-12-01T08:30".length() ? time + ":00" : time;
        return PlcOpenWriter.write(PlcText.of(text), name, seconds, diagrams).xml();
    }
}
