package boldanvil.core.edit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.Variable;
import boldanvil.core.finding.FindingException;
import java.util.List;
import org.junit.jupiter.api.Test;

class VariableFileTest {
    private static final List<Variable> SOME = List.of(new Variable("R", "0.6 Ω", "armature, with leads", "Ω", "motor"),
            new Variable("w", "2*pi*50", "says \"hertz\""));

    @Test
    void whatIsWrittenIsRead() {
        assertThat(VariableFile.read(VariableFile.write(SOME), "v.csv", SOME)).isEqualTo(SOME);
        assertThat(VariableFile.read("\uFEFF" + VariableFile.write(SOME), "v.csv", List.of())).isEqualTo(SOME);
    }

    @Test
    void valuesAreTakenAndTheRestStays() {
        assertThat(VariableFile.read("Name,Value\nR,0.7 Ω\nL,1 mH\n", "v.csv", SOME)).containsExactly(
                new Variable("R", "0.7 Ω", "armature, with leads", "Ω", "motor"), SOME.get(1), new Variable("L", "1 mH", ""));
    }

    @Test
    void aTableThatCannotBeUsedSaysWhyAndWhere() {
        assertThatThrownBy(() -> VariableFile.read("a;b\n1;2", "v.csv", SOME)).isInstanceOf(FindingException.class)
                .hasMessageContaining("'name' and 'value'");
        assertThatThrownBy(() -> VariableFile.read("name,value\nR,1\n2x,3", "v.csv", SOME)).isInstanceOf(FindingException.class)
                .hasMessageContaining("v.csv:3");
        assertThatThrownBy(() -> VariableFile.read("name,value\nR,1\nR,3", "v.csv", SOME)).isInstanceOf(FindingException.class)
                .hasMessageContaining("twice");
        for (String broken : new String[] {"", "name,value\n\"R", "\0\0\0", "name,name,value\n1,2,3"}) {
            assertThatThrownBy(() -> VariableFile.read(broken, "v.csv", SOME)).as(broken).isInstanceOf(FindingException.class);
        }
    }
}
