package boldanvil.core.lower;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;

/** Vectors, bundles and named wires. */
class VectorsTest {
    private static PartBuilder three(String type, String... settings) {
        return new PartBuilder("p").block("v", "constant", "value=[1, 2, 3]").block("f", type, settings).block("s", "split", "outputs=3")
                .block("y1", "outlet")
                .block("y2", "outlet").block("y3", "outlet").wire("v.y", "f.u").wire("f.y", "s.u").wire("s.y1", "y1.u").wire("s.y2", "y2.u")
                .wire("s.y3", "y3.u");
    }

    private static double[] run(PartBuilder b) {
        var s = Stepper.of(b).step();
        return new double[] {s.out("y1"), s.out("y2"), s.out("y3")};
    }

    @Test
    void elementwiseBlocksTakeVectors() {
        assertThat(run(three("gain", "k=2"))).containsExactly(2, 4, 6);
        assertThat(run(three("gain", "k=[1, 10, 100]"))).containsExactly(1, 20, 300);
        assertThat(run(three("saturation", "low=1.5", "high=2.5"))).containsExactly(1.5, 2, 2.5);
    }

    @Test
    void eachElementHasAStateOfItsOwn() {
        var s = Stepper.of(three("accumulator", "k=1000"));
        s.ticks(2).step();
        assertThat(s.out("y1")).isEqualTo(2);
        assertThat(s.out("y3")).isEqualTo(6);
    }

    @Test
    void aLiveParameterIsSharedByAllElements() {
        var b = three("gain", "*k=2");
        assertThat(b.program().tunables()).hasSize(1);
        var s = Stepper.of(b).tune("f.k", 5).step();
        assertThat(s.out("y3")).isEqualTo(15);
    }

    @Test
    void wholeVectors() {
        var b = new PartBuilder("p").block("v", "constant", "value=[1, 2, 3]").block("w", "constant", "value=[4, 5, 6]").block("d", "dot")
                .block("m", "matrix",
                "K=[[1, 0, 0], [0, 1, 1]]").block("s", "split").block("c", "vector reduction", "what=length")
                .block("p", "pick", "elements=[3, 1]").block("q", "split").block("a", "outlet")
                .block("b", "outlet").block("e", "outlet").block("f", "outlet").block("g", "outlet").wire("v.y", "d.u").wire("w.y", "d.v")
                .wire("v.y", "m.u").wire("m.y", "s.u")
                .wire("v.y", "p.u").wire("p.y", "q.u").wire("v.y", "c.u").wire("d.y", "a.u").wire("s.y2", "b.u").wire("q.y1", "e.u")
                .wire("q.y2", "f.u").wire("c.y", "g.u")
                .block("t", "tap").wire("s.y1", "t.u");
        var s = Stepper.of(b).step();
        assertThat(s.out("a")).isEqualTo(32);
        assertThat(s.out("b")).isEqualTo(5);
        assertThat(s.out("e")).isEqualTo(3);
        assertThat(s.out("f")).isEqualTo(1);
        assertThat(s.out("g")).isEqualTo(Math.sqrt(14));
    }

    @Test
    void aTappedVectorIsOneTapPerElement() {
        var p = new PartBuilder("p").block("v", "constant", "value=[1, 2]").block("d", "delay").block("t", "tap").wire("v.y", "d.u")
                .wire("d.y", "t.u").program();
        assertThat(p.taps()).extracting(boldanvil.core.program.Tap::name).containsExactly("t.1", "t.2");
    }

    @Test
    void lengthsMustFit() {
        var b = new PartBuilder("p").block("v", "constant", "value=[1, 2, 3]").block("w", "constant", "value=[1, 2]").block("s", "sum")
                .block("y", "outlet").wire("v.y", "s.u1")
                .wire("w.y", "s.u2").wire("s.y", "y.u");
        assertThat(b.lower().findings()).anyMatch(f -> f.cause().contains("A vector of 2 elements is combined with one of 3"))
                .anyMatch(f -> f.place().text().equals("p/y") && f.cause().contains("is connected to a port of the part"));
        assertThat(three("matrix", "K=[[1, 2], [3, 4], [5, 6]]").lower().findings())
                .anyMatch(f -> f.cause().contains("K has 3 rows and 6 values"));
        assertThat(three("pick", "elements=[4]").lower().findings()).anyMatch(f -> f.cause().contains("no element 4"));
    }

    @Test
    void aBundleCarriesSignalsOfDifferentTypesThroughASubsystem() {
        var b = new PartBuilder("p").block("x", "inlet").block("on", "inlet", "type=bool").block("b", "bundle", "fields=value, valid")
                .block("s", "subsystem", "sheet=inner")
                .block("y", "outlet").block("z", "outlet").wire("x.y", "b.value").wire("on.y", "b.valid").wire("b.y", "s.data")
                .wire("s.y", "y.u").wire("s.ok", "z.u")
                .sheet("inner").block("data", "inlet").block("v", "field", "field=value").block("f", "field", "field=valid")
                .block("g", "gain", "k=2").block("y", "outlet")
                .block("ok", "outlet").wire("data.y", "v.u").wire("data.y", "f.u").wire("v.y", "g.u").wire("g.y", "y.u")
                .wire("f.y", "ok.u");
        var s = Stepper.of(b).set("x", 4).set("on", 1).step();
        assertThat(s.out("y")).isEqualTo(8);
        assertThat(s.out("z")).isEqualTo(1);
        var wrong = new PartBuilder("p").block("x", "inlet").block("b", "bundle", "fields=a").block("f", "field", "field=q")
                .block("y", "outlet").wire("x.y", "b.a")
                .wire("b.y", "f.u").wire("f.y", "y.u");
        assertThat(wrong.lower().findings()).anyMatch(f -> f.cause().contains("no field 'q'") && f.cure().contains("a"));
        var direct = new PartBuilder("p").block("x", "inlet").block("b", "bundle", "fields=a").block("y", "outlet").wire("x.y", "b.a")
                .wire("b.y", "y.u");
        assertThat(direct.lower().findings()).anyMatch(f -> f.cause().contains("The input receives a bundle"));
    }

    @Test
    void aNamedWireGoesOnWhereItsNameStands() {
        var b = new PartBuilder("p").block("x", "inlet").block("torque", "label").block("f", "from label", "wire=torque")
                .block("y", "outlet").wire("x.y", "torque.u")
                .wire("f.y", "y.u");
        assertThat(Stepper.of(b).set("x", 4).step().out("y")).isEqualTo(4);
        var lost = new PartBuilder("p").block("f", "from label", "wire=torq").block("y", "outlet").wire("f.y", "y.u");
        assertThat(lost.lower().findings()).anyMatch(f -> f.cause().contains("This sheet has no Wire label block with the name 'torq'"));
    }
}
