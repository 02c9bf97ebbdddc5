package boldanvil.core.tags;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.TagTable.Direction;
import boldanvil.core.diagram.TagTable.Line;
import boldanvil.core.finding.FindingException;
import java.util.List;
import java.util.Map;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class TagFileTest {
    @Provide
    Arbitrary<Line> lines() {
        return Combinators.combine(Arbitraries.strings().ofMinLength(1).ofMaxLength(12).alpha(),
                Arbitraries.of("BOOL", "INT", "REAL", "STRING"),
                Arbitraries.of("", "%MW4", "ns=2;s=a,b", "holding 7 swapped"), Arbitraries.of("", "mm", "°C"),
                        Arbitraries.of(1.0, 0.1, -2.5e-3),
                Arbitraries.of(0.0, -40.0), Arbitraries.of(Direction.values()), Arbitraries.strings().withChars("ab\", \n;ü")
                        .ofMaxLength(9))
                .as((n, t, a, u, f, o, d, c) -> new Line(n, t, a, u, f, o, d, "", c.strip()));
    }

    @Property(tries = 200)
    void whatIsWrittenIsRead(@ForAll("lines") Line line) {
        var table = new TagTable(List.of(line), Map.of("port a", line.name(), "port b", line.name()), "");
        var read = TagFile.read(TagFile.write(table), "tags.csv");
        assertThat(read.findings()).isEmpty();
        assertThat(read.lines()).containsExactly(line);
        assertThat(read.bindings()).isEqualTo(table.bindings());
    }

    @Test
    void columnsComeInAnyOrderWithSemicolonsAndTabs() {
        for (String separator : List.of(";", "\t")) {
            var read = TagFile.read(("\uFEFFComment;Type;NAME;unit;factor\nlevel of the lock;int;LT1;mm;0.5\n").replace(";", separator),
                    "t");
            assertThat(read.lines()).containsExactly(new Line("LT1", "INT", "", "mm", 0.5, 0, Direction.BOTH, "", "level of the lock"));
        }
    }

    @Test
    void wrongLinesAreNamedWithTheirPlaceAndTheOthersAreRead() {
        var read = TagFile.read("""
                name,type,factor,direction
                a,BOOL,,
                b,COLOUR,,
                ,INT,,
                c,INT,zero,
                A,INT,,
                d,REAL,,sideways
                e,REAL,2,out
                """, "list.csv");
        assertThat(read.lines()).extracting(Line::name).containsExactly("a", "e");
        assertThat(read.findings()).extracting(f -> f.place().text()).containsExactly("list.csv:3", "list.csv:4", "list.csv:5",
                "list.csv:6",
                "list.csv:7");
        assertThat(read.findings()).extracting(f -> f.cause()).anyMatch(c -> c.contains("'COLOUR' is not a type"))
                .anyMatch(c -> c.contains("'zero' is not a number")).anyMatch(c -> c.contains("'A' is there twice"))
                .anyMatch(c -> c.contains("'sideways' is not a direction"));
    }

    @Test
    void aHundredThousandLinesWithAWrongColumnAreAnsweredInShort() {
        var text = new StringBuilder("name,type\n");
        for (int i = 0; i < 100_000; i++) {
            text.append("tag").append(i).append(i % 2 == 0 ? ",INT\n" : ",WRONG\n");
        }
        var read = TagFile.read(text.toString(), "long.csv");
        assertThat(read.lines()).hasSize(50_000);
        assertThat(read.findings()).hasSize(21);
        assertThat(read.findings().getLast().cause()).contains("49980 more lines are wrong");
        assertThatThrownBy(() -> TagFile.read(text.toString().replaceFirst("name,type", "number,kind"), "long.csv"))
                .isInstanceOf(FindingException.class).hasMessageContaining("'name' and 'type'");
    }

    @Test
    void aTableThatIsNoneIsRefused() {
        assertThatThrownBy(() -> TagFile.read("name,type\n\"open,INT\n", "t")).isInstanceOf(FindingException.class);
        assertThatThrownBy(() -> TagFile.read("", "t")).isInstanceOf(FindingException.class);
    }
}
