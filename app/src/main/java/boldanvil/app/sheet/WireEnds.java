package boldanvil.app.sheet;

import boldanvil.app.sheet.SheetGestures.End;
import boldanvil.core.diagram.Wire;
import boldanvil.core.sheet.Routes;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.sheet.SheetScene.PortKind;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.sheet.WireRouter;
import java.util.Set;

/** Where a wire that is drawn by hand begins and ends. */
final class WireEnds {
    private WireEnds() {}

    /** An input that has a wire, or the start of the selected wire, is the end of that wire, which is then drawn from its other end. */
    static End held(SheetScene scene, Set<Wire> selected, End end) {
        for (var link : scene.links()) {
            Wire w = link.wire();
            if (end.kind() == PortKind.INPUT && w.drives(end.node(), end.port())) {
                var ends = WireRouter.ends(scene, w);
                return ends == null ? end : new End(w.from(), w.fromPort(), PortKind.OUTPUT, ends[0].at(), w);
            }
            if (end.kind() == PortKind.OUTPUT && selected.contains(w) && w.from().equals(end.node())
                    && w.fromPort().equals(end.port())) {
                var ends = WireRouter.ends(scene, w);
                return ends == null ? end : new End(w.to(), w.toPort(), PortKind.INPUT, ends[1].at(), w);
            }
        }
        return end;
    }

    /** The end at a place for a wire from another end: a port, the one fitting port of a plate that is free, or a wire; null for none. */
    static End target(SheetScene scene, Routes routes, End from, double x, double y) {
        End to = SheetHits.port(scene, x, y);
        Node plate = SheetHits.node(scene, x, y);
        if (to == null && plate != null && !plate.id().equals(from.node())) {
            to = plate.ports(counterpart(from.kind())).stream()
                    .filter(p -> p.kind() != PortKind.INPUT
                            || scene.links().stream().noneMatch(l -> l.wire().drives(plate.id(), p.name())))
                    .findFirst().map(p -> new End(plate.id(), p.name(), p.kind(), plate.at(p), null)).orElse(null);
        }
        if (to == null && plate == null && from.kind() != PortKind.OUTPUT) {
            // A wire of a signal is branched from, a net is joined.
            Wire other = SheetHits.wire(scene, routes.ways(), x, y);
            if (other != null && other.isNet() == (from.kind() == PortKind.CONTACT)) {
                to = new End(other.from(), other.fromPort(), counterpart(from.kind()), new Point(x, y), null);
            }
        }
        return to;
    }

    /** What a port can be connected to. */
    static PortKind counterpart(PortKind kind) {
        return switch (kind) {
            case INPUT -> PortKind.OUTPUT;
            case OUTPUT -> PortKind.INPUT;
            case CONTACT -> PortKind.CONTACT;
        };
    }
}
