package boldanvil.core.sheet;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.Plate;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.sheet.SheetScene.Port;
import boldanvil.core.sheet.SheetScene.PortKind;
import boldanvil.core.diagram.Lane;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Side;
import boldanvil.core.diagram.Wire;
import boldanvil.core.stock.Family;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.review.Review;
import boldanvil.core.stock.Picture;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;

class WireRouterTest {
    private static Node node(String id, double x, double y) {
        return node(id, x, y, new Port("u", "u", PortKind.INPUT, Side.LEFT), new Port("y", "y", PortKind.OUTPUT, Side.RIGHT));
    }

    private static Node node(String id, double x, double y, Port... ports) {
        return new Node(id, new Plate(id, "", Picture.NONE, Family.CALCULATION, "", false, false, false), List.of(ports), x, y);
    }

    private static SheetScene scene(List<Node> nodes, Wire... wires) {
        return new SheetScene(nodes, java.util.Arrays.stream(wires).map(w -> new SheetScene.Link(w, null)).toList());
    }

    private static Wire wire(String a, String b) {
        return new Wire(a, "y", b, "u");
    }

    private static void assertOrthogonal(List<Point> way) {
        for (int i = 1; i < way.size(); i++) {
            boolean straight = way.get(i).x() == way.get(i - 1).x() || way.get(i).y() == way.get(i - 1).y();
            assertThat(straight).as("%s", way).isTrue();
        }
    }

    private static boolean crosses(List<Point> way, Node n) {
        for (int i = 1; i < way.size(); i++) {
            Point a = way.get(i - 1);
            Point b = way.get(i);
            boolean apart = Math.max(a.x(), b.x()) <= n.x() || Math.min(a.x(), b.x()) >= n.x() + n.width()
                    || Math.max(a.y(), b.y()) <= n.y() || Math.min(a.y(), b.y()) >= n.y() + n.height();
            if (!apart) {
                return true;
            }
        }
        return false;
    }

    @Test
    void levelPlatesAreJoinedByAStraightLine() {
        var w = wire("a", "b");
        var way = WireRouter.route(scene(List.of(node("a", 0, 0), node("b", 200, 0)), w)).get(w);
        assertThat(way).containsExactly(new Point(130, 30), new Point(200, 30));
    }

    @Test
    void aWireGoesAroundAPlateInItsWay() {
        var w = wire("a", "b");
        var between = node("between", 200, 0);
        var way = WireRouter.route(scene(List.of(node("a", 0, 0), between, node("b", 400, 0)), w)).get(w);
        assertOrthogonal(way);
        assertThat(crosses(way, between)).isFalse();
        assertThat(way.getFirst()).isEqualTo(new Point(130, 30));
        assertThat(way.getLast()).isEqualTo(new Point(400, 30));
    }

    @Test
    void aWireBackwardsRunsIntoItsPortFromTheLeft() {
        var w = wire("b", "a");
        var nodes = List.of(node("a", 0, 0), node("b", 300, 0));
        var way = WireRouter.route(scene(nodes, w)).get(w);
        assertOrthogonal(way);
        assertThat(way.get(way.size() - 2).x()).isLessThan(0);
        nodes.forEach(n -> assertThat(crosses(way.subList(1, way.size() - 1), n)).isFalse());
    }

    @Test
    void aWireWithoutItsEndsHasNoWay() {
        var w = wire("a", "ghost");
        assertThat(WireRouter.route(scene(List.of(node("a", 0, 0)), w))).isEmpty();
        assertThat(WireRouter.ends(scene(List.of(node("a", 0, 0), node("b", 0, 0))), new Wire("a", "no", "b", "u"))).isNull();
    }

    @Test
    void theDemosSheetsAreRoutedAroundEveryPlate() {
        var w = SheetSource.of(Review.of(ProjectReader.read(Path.of("../demo/larkmere-lock"))));
        for (var part : w.project().parts()) {
            for (var sheet : part.sheets()) {
                var scene = SheetScene.of(w, new SheetRef(part.id(), sheet.id()), part.id());
                var routes = WireRouter.route(scene);
                assertThat(routes).hasSize(scene.links().size());
                routes.forEach((wire, way) -> {
                    assertOrthogonal(way);
                    for (Node n : scene.nodes()) {
                        boolean own = n.id().equals(wire.from()) || n.id().equals(wire.to());
                        assertThat(!own && crosses(way, n)).as("%s through %s", wire, n.title()).isFalse();
                    }
                });
            }
        }
    }

    @Test
    void aWireLaidByHandStaysWhereItIsAndOthersAvoidIt() {
        var laid = wire("a", "b").laid(List.of(new Lane(true, 170), new Lane(false, 200), new Lane(true, 260)));
        var nodes = List.of(node("a", 0, 0), node("b", 300, 0));
        assertThat(WireRouter.route(scene(nodes, laid)).get(laid)).containsExactly(new Point(130, 30), new Point(170, 30),
                new Point(170, 200), new Point(260, 200), new Point(260, 30), new Point(300, 30));
        // The block moves: the lanes stay, the ends follow.
        var moved = List.of(node("a", 0, 60), node("b", 300, 0));
        assertThat(WireRouter.route(scene(moved, laid)).get(laid)).startsWith(new Point(130, 90), new Point(170, 90), new Point(170, 200));
    }

    @Test
    void lanesThatDoNotFitThePortsAreLeftToTheRouter() {
        var laid = wire("a", "b").laid(List.of(new Lane(false, 200)));
        var way = WireRouter.route(scene(List.of(node("a", 0, 0), node("b", 200, 0)), laid)).get(laid);
        assertThat(way).containsExactly(new Point(130, 30), new Point(200, 30));
    }

    @Test
    void aSheetTooLargeForTheGridIsStillDrawn() {
        var w = wire("a", "b");
        var way = WireRouter.route(scene(List.of(node("a", 0, 0), node("b", 5e8, 5e8)), w)).get(w);
        assertThat(way.getLast()).isEqualTo(new Point(5e8, 5e8 + 30));
    }

    @Test
    void branchesAndCrossingsAreFound() {
        var ways = java.util.Map.of(wire("a", "b"), List.of(new Point(0, 30), new Point(100, 30), new Point(200, 30)),
                wire("a", "c"), List.of(new Point(0, 30), new Point(100, 30), new Point(100, 90)),
                wire("d", "e"), List.of(new Point(0, 60), new Point(200, 60)));
        var routes = Routes.of(ways);
        assertThat(routes.branches()).containsExactly(new Point(100, 30));
        assertThat(routes.hops()).containsExactly(java.util.Map.entry(wire("d", "e"), List.of(new Point(100, 60))));
    }

    @Test
    void aSegmentIsMovedAcrossItself() {
        var way = List.of(new Point(0, 0), new Point(50, 0), new Point(50, 100), new Point(120, 100));
        assertThat(Way.moved(way, 1, 80)).containsExactly(new Lane(true, 80));
        assertThat(Way.moved(way, 0, 40)).containsExactly(new Lane(true, 20), new Lane(false, 40), new Lane(true, 50));
        assertThat(Way.moved(way, 2, 60)).containsExactly(new Lane(true, 50), new Lane(false, 60), new Lane(true, 100));
        assertThat(Way.moved(List.of(new Point(0, 0), new Point(200, 0)), 0, 50)).containsExactly(new Lane(true, 20), new Lane(false, 50),
                new Lane(true, 180));
    }

    @Test
    void aNetLeavesItsContactsOnTheirSides() {
        for (Side a : Side.values()) {
            for (Side b : Side.values()) {
                var first = node("a", 0, 0, new Port("p", "p", PortKind.CONTACT, a));
                var second = node("b", 300, 200, new Port("n", "n", PortKind.CONTACT, b));
                var net = Wire.net("a", "p", "b", "n");
                var way = WireRouter.route(scene(List.of(first, second), net)).get(net);
                assertOrthogonal(way);
                assertThat(way.getFirst()).isEqualTo(first.at(first.ports().getFirst()));
                assertThat(way.getLast()).isEqualTo(second.at(second.ports().getFirst()));
                assertThat(leads(way.get(0), way.get(1))).as("%s of a: %s", a, way).isEqualTo(a);
                assertThat(leads(way.getLast(), way.get(way.size() - 2))).as("%s of b: %s", b, way).isEqualTo(b);
                assertThat(crosses(way.subList(1, way.size() - 1), first) || crosses(way.subList(1, way.size() - 1), second)).as("%s", way)
                        .isFalse();
            }
        }
    }

    @Test
    void aNetDoesNotEndAtAPortWithDirection() {
        var net = Wire.net("a", "y", "b", "u");
        assertThat(WireRouter.route(scene(List.of(node("a", 0, 0), node("b", 200, 0)), net))).isEmpty();
    }

    private static Side leads(Point from, Point to) {
        return to.x() > from.x() ? Side.RIGHT : to.x() < from.x() ? Side.LEFT : to.y() > from.y() ? Side.BOTTOM : Side.TOP;
    }

    @Test
    void portsLieOnTheirSides() {
        var n = node("a", 100, 100, new Port("l", "", PortKind.CONTACT, Side.LEFT), new Port("t", "", PortKind.INPUT, Side.TOP),
                new Port("r", "", PortKind.OUTPUT, Side.RIGHT),
                new Port("b1", "", PortKind.CONTACT, Side.BOTTOM), new Port("b2", "", PortKind.CONTACT, Side.BOTTOM));
        assertThat(n.ports().stream().map(n::at)).containsExactly(new Point(100, 130), new Point(160, 100), new Point(230, 130),
                new Point(150, 150), new Point(170, 150));
    }
}
