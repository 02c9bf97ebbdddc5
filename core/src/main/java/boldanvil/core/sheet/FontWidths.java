package boldanvil.core.sheet;

import boldanvil.core.report.PdfBook;
import boldanvil.core.sheet.Pen.Lettering;
import java.io.IOException;
import java.util.EnumMap;
import java.util.Map;
import org.apache.fontbox.ttf.CmapLookup;
import org.apache.fontbox.ttf.TTFParser;
import org.apache.fontbox.ttf.TrueTypeFont;
import org.apache.pdfbox.io.RandomAccessReadBuffer;

/** Widths of texts from the fonts' own tables, without a window. */
public final class FontWidths {
    private final Map<Lettering, TrueTypeFont> fonts = new EnumMap<>(Lettering.class);
    private final Map<Lettering, CmapLookup> glyphs = new EnumMap<>(Lettering.class);

    /** @throws IOException when a font cannot be read */
    public FontWidths(PdfBook.Fonts files) throws IOException {
        read(Lettering.SANS, files.plain());
        read(Lettering.BOLD, files.bold());
        read(Lettering.MONO, files.mono());
    }

    private void read(Lettering l, byte[] file) throws IOException {
        var font = new TTFParser(true).parse(new RandomAccessReadBuffer(file));
        fonts.put(l, font);
        glyphs.put(l, font.getUnicodeCmapLookup());
    }

    /** The width of a text at a size. */
    public double width(String text, Lettering lettering, double size) {
        TrueTypeFont font = fonts.get(lettering);
        try {
            double units = 0;
            for (int c : text.codePoints().toArray()) {
                units += font.getAdvanceWidth(glyphs.get(lettering).getGlyphId(c));
            }
            return units / font.getUnitsPerEm() * size;
        } catch (IOException e) {
            return 0.6 * size * text.length();
        }
    }
}
