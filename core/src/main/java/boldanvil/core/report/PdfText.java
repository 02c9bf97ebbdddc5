package boldanvil.core.report;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.font.PDFont;

/**
 * Texts on a page of a PDF file. Signs that the font does not have are taken from another; what neither has becomes a question mark.
 *
 * @param other may be the font itself
 */
public record PdfText(PDFont font, PDFont other) {
    private record Run(PDFont font, String text) {}

    public PdfText(PDFont font) {
        this(font, font);
    }

    private List<Run> runs(String text) {
        List<Run> runs = new ArrayList<>();
        text.codePoints().mapToObj(Character::toString).forEach(sign -> {
            boolean known = has(font, sign);
            PDFont from = known || !has(other, sign) ? font : other;
            String shown = known || from == other && other != font ? sign : "?";
            if (!runs.isEmpty() && runs.getLast().font() == from) {
                runs.set(runs.size() - 1, new Run(from, runs.getLast().text() + shown));
            } else {
                runs.add(new Run(from, shown));
            }
        });
        return runs;
    }

    private static boolean has(PDFont font, String sign) {
        try {
            font.encode(sign);
            return true;
        } catch (IOException | IllegalArgumentException e) {
            return false;
        }
    }

    /** The width of a text at a size. */
    public float width(String text, double size) throws IOException {
        float sum = 0;
        for (Run r : runs(text)) {
            sum += r.font().getStringWidth(r.text());
        }
        return sum / 1000 * (float) size;
    }

    /** Writes a text where the page's text begins; between its {@code beginText} and {@code endText}. */
    public void show(PDPageContentStream page, String text, double size) throws IOException {
        for (Run r : runs(text)) {
            page.setFont(r.font(), (float) size);
            page.showText(r.text());
        }
    }
}
