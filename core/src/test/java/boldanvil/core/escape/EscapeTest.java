package boldanvil.core.escape;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.StringReader;
import java.nio.charset.StandardCharsets;
import javax.xml.parsers.DocumentBuilderFactory;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.apache.commons.csv.CSVFormat;
import org.junit.jupiter.api.Test;
import org.xml.sax.InputSource;

/** Whatever a text holds, it stays a text in the language it is written into. */
class EscapeTest {
    @Provide
    Arbitrary<String> hostile() {
        Arbitrary<String> marks = Arbitraries.of("*/", "/*", "//", "\n", "\r\n", "\\", "??/", "$(shell id)", "`id`", "${X}", "|",
                "<script>", "&", "]]>", "\u202E", "\u2066", "\uD800",
                "\uDC00", "\u2028", "\0", "=1+1", "+cmd", "@x", "-2", "#", "[[", "\"", "'", "ü", "𝄞", "a", " ");
        return marks.list().ofMaxSize(8).map(l -> String.join("", l));
    }

    @Property
    void aLineIsOneLineThatCanBeEncoded(@ForAll("hostile") String s) {
        String line = Escape.line(s);
        assertThat(line.chars()).noneMatch(Character::isISOControl).noneMatch(c -> c >= 0x202A && c <= 0x202E || c >= 0x2066
                && c <= 0x2069);
        assertThat(new String(line.getBytes(StandardCharsets.UTF_8), StandardCharsets.UTF_8)).isEqualTo(line);
    }

    @Property
    void aCommentOfCEndsWhereItIsEnded(@ForAll("hostile") String s) {
        String comment = "/*" + Escape.cComment(s) + "*/";
        assertThat(comment.indexOf("*/")).isEqualTo(comment.length() - 2);
        assertThat(comment.indexOf("/*", 1)).isEqualTo(-1);
        assertThat(comment).doesNotContain("\n").doesNotContain("??/");
    }

    @Property
    void aCommentOfAMakefileDoesNotGoOnInTheNextLine(@ForAll("hostile") String s) {
        assertThat(Escape.hashComment(s)).doesNotContain("\n").doesNotEndWith("\\").doesNotStartWith("[");
    }

    @Property
    void aTextOfXmlIsReadAsItWasWritten(@ForAll("hostile") String s) throws Exception {
        var document = DocumentBuilderFactory.newInstance().newDocumentBuilder()
                .parse(new InputSource(new StringReader("<a b=\"" + Escape.xml(s) + "\">" + Escape.xml(s) + "</a>")));
        assertThat(document.getDocumentElement().getTextContent()).isEqualTo(Escape.line(s));
        assertThat(document.getDocumentElement().getAttribute("b")).isEqualTo(Escape.line(s));
        assertThat(document.getDocumentElement().getChildNodes().getLength()).isLessThanOrEqualTo(1);
    }

    @Property
    void aCellOfMarkdownHoldsNoMarkup(@ForAll("hostile") String s) {
        String cell = Escape.markdown(s);
        assertThat(cell.replaceAll("\\\\.", "")).doesNotContain("|").doesNotContain("<").doesNotContain("`").doesNotContain("[");
    }

    @Property
    void aCellOfCsvIsNoFormula(@ForAll("hostile") String s) throws Exception {
        String cell = Escape.csvText(s);
        assertThat(cell.isEmpty() ? ' ' : cell.charAt(0)).isNotIn('=', '@', '\t', '\r');
        assertThat(cell.endsWith(s)).isTrue();
        var record = CSVFormat.RFC4180.parse(new StringReader(CSVFormat.RFC4180.format(cell, "next"))).iterator().next();
        assertThat(record.get(1)).isEqualTo("next");
    }

    @Test
    void numbersStayNumbers() {
        for (String n : new String[] {"-2", "+1.5", "-1e-9", "0.4", "12"}) {
            assertThat(Escape.csvText(n)).isEqualTo(n);
        }
        assertThat(Escape.csvText("-2+cmd")).isEqualTo("'-2+cmd");
    }
}
