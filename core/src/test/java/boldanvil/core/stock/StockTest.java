package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.quantity.Formula;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class StockTest {
    static Stream<BlockType> all() {
        return Stock.all().stream();
    }

    @ParameterizedTest
    @MethodSource("all")
    void everyTypeExplainsItself(BlockType t) {
        assertThat(t.help()).hasSizeGreaterThan(15);
        assertThat(t.title()).isNotBlank();
        t.parameters().forEach(p -> assertThat(p.help()).as(p.name()).isNotBlank());
    }

    @ParameterizedTest
    @MethodSource("all")
    void everyDefaultCanBeRead(BlockType t) {
        for (Parameter p : t.parameters()) {
            switch (p.kind()) {
                case REAL -> assertThat(Formula.evaluate(p.initial(), Map.of())).as(p.name()).isBetween(p.minimum(), p.maximum());
                case REALS, LIST -> assertThat(Formula.evaluateList(p.initial(), Map.of())).isNotNull();
                case CHOICE -> assertThat(p.choices()).contains(p.initial());
                case TEXT, SOURCE -> assertThat(p.initial()).isNotNull();
            }
        }
    }

    @ParameterizedTest
    @MethodSource("all")
    void everyPlateReadsSomethingWithoutALeftOverPlaceholder(BlockType t) {
        String summary = t.summary(new Settings(t, Map.of()));
        assertThat(summary).doesNotContain("{").doesNotContain("}");
        if (t.role() != BlockType.Role.SUBSYSTEM) {
            assertThat(summary).isNotBlank();
        }
    }

    @ParameterizedTest
    @MethodSource("all")
    void portsHaveDifferentNames(BlockType t) {
        Face f = t.face(new Settings(t, Map.of()));
        Set<String> names = new HashSet<>(f.outputs());
        f.inputs().forEach(in -> names.add("in " + in.name()));
        assertThat(names).hasSize(f.inputs().size() + f.outputs().size());
    }

    @Test
    void theFirstPassHasItsBlocks() {
        assertThat(Stock.all()).extracting(BlockType::id).contains("constant", "step", "pulse", "sine", "gain", "sum", "product", "minmax",
                "abs", "compare", "logic", "switch", "saturation", "deadzone", "delay", "accumulator", "pid", "ratelimit",
                "sample time change",
                "counter", "integrator", "transfer", "lookup", "subsystem", "analog in", "pwm out", "encoder in", "digital in",
                "digital out", "tap", "tunable");
    }

    @Test
    void theManualIsCurrent() throws java.io.IOException {
        // Renew it with: ./bold-anvil blocks > docs/blocks.md
        assertThat(java.nio.file.Files.readString(java.nio.file.Path.of("../docs/blocks.md"))).isEqualTo(BlockManual.markdown());
    }

    @Test
    void typesAreFoundById() {
        assertThat(Stock.find("gain")).isPresent();
        assertThat(Stock.find("gane")).isEmpty();
        assertThatThrownBy(() -> Stock.find("gain").orElseThrow().parameter("q")).isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void signsMakePorts() {
        var sum = Stock.find("sum").orElseThrow();
        assertThat(sum.face(new Settings(sum, Map.of("signs", "+-+"))).inputs()).extracting(Face.In::name)
                .isEqualTo(List.of("u1", "u2", "u3"));
        assertThat(sum.summary(new Settings(sum, Map.of("signs", "+-+")))).isEqualTo("u1 − u2 + u3");
        assertThat(sum.face(new Settings(sum, Map.of("signs", "nonsense"))).inputs()).hasSize(1);
        assertThat(sum.face(new Settings(sum, Map.of("signs", "+".repeat(99)))).inputs()).hasSize(12);
    }

    @Test
    void aTransferFunctionWithoutDirectPathBreaksLoops() {
        var t = Stock.find("transfer").orElseThrow();
        assertThat(t.face(new Settings(t, Map.of("num", "[1]", "den", "[1, 1]"))).inputs().getFirst().direct()).isFalse();
        assertThat(t.face(new Settings(t, Map.of("num", "[1, 0]", "den", "[1, 1]"))).inputs().getFirst().direct()).isTrue();
        assertThat(t.face(new Settings(t, Map.of("num", "[max(1,2)]", "den", "[1, 1]"))).inputs().getFirst().direct()).isFalse();
    }
}
