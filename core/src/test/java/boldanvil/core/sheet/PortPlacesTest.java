package boldanvil.core.sheet;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Side;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.PortKind;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

class PortPlacesTest {
    private static final SheetRef MAIN = new SheetRef("p", "main");

    private static Project project(Look look) {
        var part = new PartBuilder("p").block("sub", "subsystem", "sheet=body").sheet("body").block("a", "inlet").block("b", "inlet")
                .block("c", "inlet").block("y", "outlet").block("z", "outlet").wire("a.y", "y.u").wire("b.y", "z.u").part();
        return PartBuilder.project(List.of(part)).change(MAIN, s -> s.change("sub", b -> b.looking(look)));
    }

    private static Node node(Look look) {
        Project p = project(look);
        return SheetScene.of(SheetSource.of(p, LoweredSystem.of(p), List.of()), MAIN, "p").node("sub").orElseThrow();
    }

    private static List<String> on(Node n, Side side) {
        return n.ports().stream().filter(p -> p.side() == side).map(SheetScene.Port::name).toList();
    }

    @Test
    void aPortMovesBetweenOthersOfItsSide() {
        Node n = node(Look.PLAIN);
        var c = n.port(PortKind.INPUT, "c").orElseThrow();
        var between = n.at(n.port(PortKind.INPUT, "b").orElseThrow());
        assertThat(on(PortPlaces.moved(n, c, n.x(), between.y() - 4), Side.LEFT)).containsExactly("a", "c", "b");
        assertThat(on(PortPlaces.moved(n, c, n.x(), n.y()), Side.LEFT)).containsExactly("c", "a", "b");
    }

    @Test
    void aPortMovesToAnySide() {
        Node n = node(Look.PLAIN);
        var y = n.port(PortKind.OUTPUT, "y").orElseThrow();
        assertThat(on(PortPlaces.moved(n, y, n.x() + 70, n.y() - 3), Side.TOP)).containsExactly("y");
        assertThat(on(PortPlaces.moved(n, y, n.x() + 70, n.y() + n.height() + 9), Side.BOTTOM)).containsExactly("y");
        assertThat(on(PortPlaces.moved(n, y, n.x() - 2, n.y() + 200), Side.LEFT)).containsExactly("a", "b", "c", "y");
    }

    @Property(tries = 100)
    void turnedAndMirroredBlocksGetThePortWhereItIsDropped(@ForAll @IntRange(min = 0, max = 3) int turn, @ForAll boolean mirrored,
            @ForAll @IntRange(min = -20, max = 200) int x, @ForAll @IntRange(min = -20, max = 200) int y, @ForAll @IntRange(min = 0,
            max = 4) int which) {
        Look look = new Look(turn, mirrored, 0, 0, List.of());
        Node n = node(look);
        Node moved = PortPlaces.moved(n, n.ports().get(which), n.x() + x, n.y() + y);
        Node drawn = node(PortPlaces.of(moved, look));
        for (Side side : Side.values()) {
            assertThat(on(drawn, side)).isEqualTo(on(moved, side));
        }
    }

    @Test
    void signalsAreNamedAfterTheirBlocks() {
        Project p = PartBuilder.project(List.of(new PartBuilder("p").block("speed", "inlet").block("sub", "subsystem", "sheet=body")
                .block("t", "tap").wire("speed.y", "sub.a").wire("sub.z", "t.u").sheet("body").block("a", "inlet").block("y", "outlet")
                .block("z", "outlet").wire("a.y", "y.u").wire("a.y", "z.u").part()));
        var scene = SheetScene.of(SheetSource.of(p, LoweredSystem.of(p), List.of()), MAIN, "p");
        assertThat(Signals.names(scene).values()).containsExactlyInAnyOrder("speed", "sub z");
    }
}
