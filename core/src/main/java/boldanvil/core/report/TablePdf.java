package boldanvil.core.report;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.common.PDRectangle;
import org.apache.pdfbox.pdmodel.font.PDFont;

/** Sets a table on pages of A4 across, as wide as its texts need; long texts are broken, headings are on every page. */
final class TablePdf {
    private static final float MARGIN = 40;
    private static final float SIZE = 9;
    private static final float LINE = 12;
    private static final float GAP = 10;

    private final Table table;
    private final PDDocument document;
    private final PDFont plain;
    private final PDFont bold;
    private final float[] widths;
    private final PDRectangle paper = new PDRectangle(PDRectangle.A4.getHeight(), PDRectangle.A4.getWidth());
    private PDPageContentStream page;
    private float y;

    TablePdf(Table table, PDDocument document, PDFont plain, PDFont bold) throws IOException {
        this.table = table;
        this.document = document;
        this.plain = plain;
        this.bold = bold;
        widths = widths();
    }

    /** Columns share the paper by the widths of their longest texts; none gets less than its heading. */
    private float[] widths() throws IOException {
        int n = table.columns().size();
        float[] wanted = new float[n];
        float sum = 0;
        for (int i = 0; i < n; i++) {
            wanted[i] = width(bold, table.columns().get(i));
            for (List<String> r : table.rows()) {
                wanted[i] = Math.max(wanted[i], Math.min(260, width(plain, r.get(i))));
            }
            sum += wanted[i];
        }
        float room = paper.getWidth() - 2 * MARGIN - GAP * (n - 1);
        for (int i = 0; i < n && sum > room; i++) {
            wanted[i] = Math.max(width(bold, table.columns().get(i)), wanted[i] * room / sum);
        }
        return wanted;
    }

    private static float width(PDFont font, String text) throws IOException {
        return new PdfText(font).width(text, SIZE);
    }

    /** Adds the pages of the table. */
    void pages() throws IOException {
        next();
        text(bold, 14, MARGIN, y, table.title());
        y -= 18;
        for (String note : table.notes()) {
            text(plain, SIZE, MARGIN, y, note);
            y -= LINE;
        }
        y -= 6;
        headings();
        for (List<String> row : table.rows()) {
            List<List<String>> cells = new ArrayList<>();
            int lines = 1;
            for (int i = 0; i < row.size(); i++) {
                cells.add(broken(row.get(i), widths[i]));
                lines = Math.max(lines, cells.getLast().size());
            }
            if (y - lines * LINE < MARGIN) {
                page.close();
                next();
                headings();
            }
            float x = MARGIN;
            for (int i = 0; i < cells.size(); i++) {
                float top = y;
                for (String part : cells.get(i)) {
                    text(plain, SIZE, x, top, part);
                    top -= LINE;
                }
                x += widths[i] + GAP;
            }
            y -= lines * LINE + 2;
        }
        page.close();
    }

    private void next() throws IOException {
        var sheet = new PDPage(paper);
        document.addPage(sheet);
        page = new PDPageContentStream(document, sheet);
        y = paper.getHeight() - MARGIN - 10;
    }

    private void headings() throws IOException {
        float x = MARGIN;
        for (int i = 0; i < widths.length; i++) {
            text(bold, SIZE, x, y, table.columns().get(i));
            x += widths[i] + GAP;
        }
        page.setLineWidth(0.6f);
        page.moveTo(MARGIN, y - 4);
        page.lineTo(paper.getWidth() - MARGIN, y - 4);
        page.stroke();
        y -= LINE + 5;
    }

    private void text(PDFont font, float size, float x, float at, String s) throws IOException {
        page.beginText();
        page.newLineAtOffset(x, at);
        new PdfText(font).show(page, s, size);
        page.endText();
    }

    private List<String> broken(String text, float room) throws IOException {
        List<String> lines = new ArrayList<>();
        var line = new StringBuilder();
        for (String word : text.split(" ")) {
            if (!line.isEmpty() && width(plain, line + " " + word) > room) {
                lines.add(line.toString());
                line.setLength(0);
            }
            line.append(line.isEmpty() ? "" : " ").append(word);
        }
        lines.add(line.toString());
        return lines;
    }
}
