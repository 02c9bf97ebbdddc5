package boldanvil.core.report;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.file.Path;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.common.PDRectangle;
import org.apache.pdfbox.pdmodel.font.PDFont;
import org.apache.pdfbox.pdmodel.font.PDType0Font;
import org.apache.pdfbox.pdmodel.interactive.documentnavigation.outline.PDDocumentOutline;
import org.apache.pdfbox.pdmodel.interactive.documentnavigation.outline.PDOutlineItem;

/** A PDF file of tables and drawings, with an outline and the fonts of the application embedded. */
public final class PdfBook implements AutoCloseable {
    private static final float MARGIN = 40;
    private static final float HEAD = 34;

    private final PDDocument document = new PDDocument();
    private final PDDocumentOutline outline = new PDDocumentOutline();
    private final PDFont plain;
    private final PDFont bold;
    private final PDFont mono;

    /** The fonts of a book as TrueType files. */
    public record Fonts(byte[] plain, byte[] bold, byte[] mono) {}

    /** Draws on a page; the origin is at its lower left. */
    @FunctionalInterface
    public interface Drawing {
        void on(PDPageContentStream content, PDFont plain, PDFont bold, PDFont mono) throws IOException;
    }

    /** An empty book. */
    public PdfBook(String title, Fonts fonts) throws IOException {
        plain = PDType0Font.load(document, new ByteArrayInputStream(fonts.plain()));
        bold = PDType0Font.load(document, new ByteArrayInputStream(fonts.bold()));
        mono = PDType0Font.load(document, new ByteArrayInputStream(fonts.mono()));
        document.getDocumentInformation().setTitle(title);
        document.getDocumentCatalog().setDocumentOutline(outline);
    }

    /** Writes a file of one table. */
    public static void write(Table table, Path file, Fonts fonts) {
        Table.write(file, out -> {
            try (var book = new PdfBook(table.title(), fonts)) {
                book.add(table);
                book.document.save(out);
            }
        });
    }

    /** Adds a table on pages of its own. */
    public void add(Table table) throws IOException {
        int first = document.getNumberOfPages();
        new TablePdf(table, document, plain, bold).pages();
        mark(table.title(), first);
    }

    /**
     * Adds a drawing on a page of A4 across, as large as fits but never larger than life.
     *
     * @param width of the drawing
     * @param height of the drawing
     */
    public void add(String title, double width, double height, Drawing drawing) throws IOException {
        var paper = new PDRectangle(PDRectangle.A4.getHeight(), PDRectangle.A4.getWidth());
        var page = new PDPage(paper);
        document.addPage(page);
        mark(title, document.getNumberOfPages() - 1);
        double room = paper.getWidth() - 2 * MARGIN;
        double high = paper.getHeight() - 2 * MARGIN - HEAD;
        float scale = (float) Math.min(1, Math.min(room / Math.max(1, width), high / Math.max(1, height)));
        try (var content = new PDPageContentStream(document, page)) {
            content.beginText();
            content.newLineAtOffset(MARGIN, paper.getHeight() - MARGIN - 10);
            new PdfText(bold).show(content, title, 14);
            content.endText();
            content.transform(new org.apache.pdfbox.util.Matrix(scale, 0, 0, scale, MARGIN,
                    paper.getHeight() - MARGIN - HEAD - (float) height * scale));
            drawing.on(content, plain, bold, mono);
        }
    }

    private void mark(String title, int page) {
        var item = new PDOutlineItem();
        item.setTitle(title);
        item.setDestination(document.getPage(page));
        outline.addLast(item);
    }

    /** Writes the file. */
    public void save(Path file) throws IOException {
        document.save(file.toFile());
    }

    @Override
    public void close() throws IOException {
        document.close();
    }
}
