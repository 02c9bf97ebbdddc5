package boldanvil.core.c;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Slot;
import boldanvil.core.testing.CompiledC;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Bundles that stand as structs in generated code. */
class StructsTest {
    @TempDir
    private Path folder;

    /** A bundle of four types, two of its fields read within a subsystem and one at another rate. */
    private static PartBuilder motor(String inCode) {
        return new PartBuilder("p").block("on", "inlet", "type=bool").block("n", "inlet", "type=int16").block("x", "inlet")
                .block("slow", "gain", "k=2", "sample time=4 ms")
                .block("motor", "bundle", "fields=on: bool, count: int16, speed: real, in", "in code=" + inCode)
                .block("s", "subsystem", "sheet=inner").block("y", "outlet")
                .wire("on.y", "motor.on").wire("n.y", "motor.count").wire("x.y", "motor.speed").wire("x.y", "slow.u")
                .wire("slow.y", "motor.in").wire("motor.y", "s.m")
                .wire("s.y", "y.u").sheet("inner").block("m", "inlet").block("v", "field", "field=speed").block("w", "field", "field=in")
                .block("d", "delay")
                .block("sum", "sum").block("y", "outlet").wire("m.y", "v.u").wire("m.y", "w.u").wire("v.y", "d.u").wire("d.y", "sum.u1")
                .wire("w.y", "sum.u2").wire("sum.y", "y.u");
    }

    @Test
    void aBundleCanBeAStructWithTypedMembers() {
        String header = CGenerator.C99.generate(motor("as a struct").program()).get(0).text();
        assertThat(header.replaceAll("/\\*.*?\\*/", "").replaceAll("\\s+", " ")).contains(
                "typedef struct { double speed; double in_; int16_t count; bool on; } p_motor_bundle_t;", "p_motor_bundle_t motor;");
        assertThat(CGenerator.C99.generate(motor("as a struct").program()).get(1).text()).contains("c->sig.motor.count = ");
        assertThat(CGenerator.C99.generate(motor("separate").program()).get(0).text()).doesNotContain("bundle_t");
    }

    @Test
    void compiledItComputesTheSame() {
        var p = motor("as a struct").program();
        List<String> command = new ArrayList<>(List.of("gcc"));
        command.addAll(CompiledC.STRICT);
        var printed = CompiledC.run(folder, List.of(p), 40, command);
        assertThat(printed.subList(1, printed.size())).isEqualTo(CompiledC.lines(p, JvmCompiler.compile(p).instantiate(), 40, v -> v));
        var loose = motor("separate").program();
        assertThat(CompiledC.lines(loose, JvmCompiler.compile(loose).instantiate(), 40, v -> v))
                .isEqualTo(printed.subList(1, printed.size()));
    }

    @Test
    void membersStandTogetherAndAligned() {
        var p = motor("as a struct").program();
        var layout = Layout.of(p);
        var members = layout.group(Layout.Group.SIGNAL).stream().filter(s -> s.member() != null).toList();
        assertThat(members).extracting(s -> s.member().name()).containsExactly("speed", "in", "count", "on");
        int begin = layout.offset(members.getFirst());
        assertThat(begin % 8).isZero();
        assertThat(members).extracting(s -> layout.offset(s) - begin).containsExactly(0, 8, 16, 18);
        assertThat(p.slots().stream().filter(Slot::inMemory).mapToInt(layout::offset).filter(o -> o >= begin + 19 && o < begin + 24))
                .isEmpty();
    }

    @Test
    void aFieldTakesOnlyItsType() {
        var clash = new PartBuilder("p").block("x", "inlet").block("b", "bundle", "fields=a: int32").block("f", "field", "field=a")
                .block("y", "outlet")
                .wire("x.y", "b.a").wire("b.y", "f.u").wire("f.y", "y.u");
        assertThat(clash.lower().findings()).anyMatch(f -> f.place().text().equals("p/b.a · u")
                && f.cause().contains("needs int32, but the wire carries float64"));
        var unknown = new PartBuilder("p").block("b", "bundle", "fields=a: word");
        assertThat(unknown.lower().findings()).anyMatch(f -> f.place().text().equals("p/b")
                && f.cause().contains("'word', which does not exist"));
    }

    @Test
    void aBundleWithinABundleIsAStructOfItsOwn() {
        var b = new PartBuilder("p").block("x", "inlet").block("inner", "bundle", "fields=a", "in code=as a struct")
                .block("outer", "bundle", "fields=i, b",
                "in code=as a struct").block("f", "field", "field=i.a").block("y", "outlet").wire("x.y", "inner.a")
                .wire("inner.y", "outer.i").wire("x.y", "outer.b")
                .wire("outer.y", "f.u").wire("f.y", "y.u");
        assertThat(b.lower().findings()).isEmpty();
        assertThat(CGenerator.C99.generate(b.program()).get(0).text()).contains("p_inner_bundle_t inner;", "p_outer_bundle_t outer;");
    }
}
