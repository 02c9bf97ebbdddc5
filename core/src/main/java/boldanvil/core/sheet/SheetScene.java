package boldanvil.core.sheet;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Side;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Faces;
import boldanvil.core.finding.Finding;
import boldanvil.core.lower.Lowered;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.Family;
import boldanvil.core.stock.Picture;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.OwnBlocks;
import boldanvil.core.stock.Stock;
import boldanvil.core.stock.Structure;
import boldanvil.core.stock.TerminalPin;
import boldanvil.core.stock.Values;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * A sheet as it is shown: plates with ports, and wires between them. The system sheet shows parts, other sheets show blocks.
 *
 * @param marks frames and notes
 */
public record SheetScene(List<Node> nodes, List<Link> links, List<Mark> marks) {
    /** What a port is. */
    public enum PortKind { INPUT, OUTPUT, CONTACT }

    /**
     * A port.
     *
     * @param label what stands beside it
     * @param side where the plate has it
     */
    public record Port(String name, String label, PortKind kind, Side side) {}

    /**
     * What a plate shows.
     *
     * @param summary the line under the title
     * @param picture beside or in place of the summary
     * @param chip its own sample time; empty when inherited
     * @param live whether it has a tunable
     * @param flagged whether a finding points at it
     * @param opens whether it holds a sheet
     */
    public record Plate(String title, String summary, Picture picture, Family family, String chip, boolean live, boolean flagged,
            boolean opens) {}

    /**
     * A plate with its ports.
     *
     * @param wide chosen width; 0 for its own
     * @param high chosen height; 0 for its own
     */
    public record Node(String id, Plate plate, List<Port> ports, double x, double y, double wide, double high) {
        public static final double WIDTH = 130;
        private static final double PITCH = 20;
        /** Width and height of a symbol. */
        private static final double SYMBOL = 60;

        public Node {
            ports = List.copyOf(ports);
        }

        public Node(String id, Plate plate, List<Port> ports, double x, double y) {
            this(id, plate, ports, x, y, 0, 0);
        }

        public String title() {
            return plate.title();
        }

        public String summary() {
            return plate.summary();
        }

        public Family family() {
            return plate.family();
        }

        public String chip() {
            return plate.chip();
        }

        public boolean live() {
            return plate.live();
        }

        public boolean flagged() {
            return plate.flagged();
        }

        public boolean opens() {
            return plate.opens();
        }

        /** Its ports of one kind, in order. */
        public List<Port> ports(PortKind kind) {
            return ports.stream().filter(p -> p.kind() == kind).toList();
        }

        /** A port by its kind and name. */
        public Optional<Port> port(PortKind kind, String name) {
            return ports.stream().filter(p -> p.kind() == kind && p.name().equals(name)).findFirst();
        }

        /** Names of its inputs. */
        public List<String> inputs() {
            return ports(PortKind.INPUT).stream().map(Port::name).toList();
        }

        /** Names of its outputs. */
        public List<String> outputs() {
            return ports(PortKind.OUTPUT).stream().map(Port::name).toList();
        }

        private int count(Side side) {
            int n = 0;
            for (Port p : ports) {
                n += p.side() == side ? 1 : 0;
            }
            return n;
        }

        /** How many ports of its side are before one. */
        private int index(Port port) {
            int n = 0;
            for (Port p : ports) {
                if (p == port || p.equals(port)) {
                    return n;
                }
                n += p.side() == port.side() ? 1 : 0;
            }
            return -1;
        }

        private int rows() {
            return Math.max(count(Side.LEFT), count(Side.RIGHT));
        }

        /** Whether it is drawn as a symbol instead of a plate. */
        public boolean isSymbol() {
            return plate.picture().isSymbol();
        }

        public double width() {
            if (isSymbol()) {
                return wide > 0 ? wide : SYMBOL;
            }
            double least = PITCH * (1 + Math.max(count(Side.TOP), count(Side.BOTTOM)));
            return Math.max(wide > 0 ? wide : opens() ? WIDTH + 20 : WIDTH, least);
        }

        public double height() {
            if (isSymbol()) {
                return high > 0 ? high : SYMBOL;
            }
            double least = rows() <= 1 ? 50 : 40 + PITCH * rows();
            return Math.max(high, least);
        }

        /** Where a port lies on the edge; always on the grid, if the plate is. */
        public Point at(Port port) {
            int index = index(port);
            int count = count(port.side());
            return switch (port.side()) {
                case LEFT -> new Point(x, y + down(index, count));
                case RIGHT -> new Point(x + width(), y + down(index, count));
                case TOP -> new Point(x + across(index, count), y);
                case BOTTOM -> new Point(x + across(index, count), y + height());
            };
        }

        private double across(int index, int count) {
            if (isSymbol()) {
                return Sheet.onGrid(width() * (index + 1) / (count + 1));
            }
            double first = Math.floor((width() - PITCH * (count - 1)) / 2 / Sheet.GRID) * Sheet.GRID;
            return first + PITCH * index;
        }

        private double down(int index, int count) {
            if (isSymbol()) {
                return Sheet.onGrid(height() * (index + 1) / (count + 1));
            }
            if (rows() <= 1) {
                return Sheet.onGrid(height() / 2);
            }
            // A row of ports begins under the title and the summary; one of few ports stands in the middle.
            double room = height() - 40 - PITCH * rows();
            double first = 50 + Math.floor(room / 2 / Sheet.GRID) * Sheet.GRID;
            return first + PITCH * (count == 1 ? (rows() - 1) / 2 : index);
        }

        public Box box() {
            return new Box(x, y, width(), height());
        }

        public boolean contains(double px, double py) {
            return box().contains(px, py);
        }

        public Node moved(double dx, double dy) {
            return new Node(id, plate, ports, x + dx, y + dy, wide, high);
        }
    }

    /** A place on the sheet. */
    public record Point(double x, double y) {}

    /** A wire with the type of its signal; null while that is unknown. */
    public record Link(Wire wire, Type type) {}

    public SheetScene {
        nodes = List.copyOf(nodes);
        links = List.copyOf(links);
        marks = List.copyOf(marks);
    }

    public SheetScene(List<Node> nodes, List<Link> links) {
        this(nodes, links, List.of());
    }

    public static final SheetScene EMPTY = new SheetScene(List.of(), List.of());

    public Optional<Node> node(String id) {
        return nodes.stream().filter(n -> n.id().equals(id)).findFirst();
    }

    /** The smallest rectangle around all plates and marks. */
    public Box bounds() {
        return Box.around(Stream.concat(nodes.stream().map(Node::box), marks.stream().map(SheetScene::box)).toList());
    }

    /** The rectangle of a mark. */
    public static Box box(Mark m) {
        return new Box(m.x(), m.y(), m.width(), m.height());
    }

    /** The system sheet. */
    public static SheetScene system(SheetSource w) {
        Project p = w.project();
        Set<String> flagged = new HashSet<>();
        for (Finding f : w.findings()) {
            f.place().sheetPath().ifPresent(path -> flagged.add(path.split("/", 2)[0]));
        }
        List<Node> nodes = new ArrayList<>();
        for (Part part : p.parts()) {
            var program = w.system().program(part.id());
            List<String> in = new ArrayList<>();
            List<String> out = new ArrayList<>();
            ports(part, in, out);
            String summary = part.kind() == Part.Kind.CONTROLLER ? "controller" : "plant";
            var plate = new Plate(part.title(), summary, Picture.NONE, part.kind() == Part.Kind.CONTROLLER ? Family.TIME : Family.PHYSICAL,
                    part.sampleTime().equals(Settings.CONTINUOUS) ? "continuous" : "every " + part.sampleTime(),
                    program.map(q -> !q.tunables().isEmpty()).orElse(false), flagged.contains(part.id()), true);
            nodes.add(new Node(part.id(), plate, ports(in, in, out, List.of(), part.look()), part.x(), part.y(), part.look().width(),
                    part.look().height()));
        }
        List<Link> links = new ArrayList<>();
        for (Wire wire : p.wires()) {
            Type type = w.system().program(wire.from()).flatMap(q -> q.port(wire.fromPort())).map(q -> q.slot().type())
                    .orElse(null);
            links.add(new Link(wire, type));
        }
        return new SheetScene(nodes, links);
    }

    /** Inputs on the left, outputs on the right, contacts where their block has them; each side in the order that was chosen. */
    private static List<Port> ports(List<String> inputs, List<String> labels, List<String> outputs, List<Face.Contact> contacts,
            Look look) {
        List<Port> all = new ArrayList<>();
        for (int i = 0; i < inputs.size(); i++) {
            all.add(port(inputs.get(i), labels.get(i), PortKind.INPUT, free(Side.LEFT, contacts), look));
        }
        outputs.forEach(o -> all.add(port(o, o, PortKind.OUTPUT, free(Side.RIGHT, contacts), look)));
        contacts.forEach(c -> all.add(port(c.name(), c.name(), PortKind.CONTACT, c.side(), look)));
        if (!look.ports().isEmpty()) {
            List<String> order = look.ports().stream().map(Look.PortSide::port).toList();
            all.sort(Comparator.comparingInt(p -> order.contains(p.name()) ? order.indexOf(p.name()) : order.size()));
        }
        return all;
    }

    /** A side for signals; above where a contact has it. */
    private static Side free(Side usual, List<Face.Contact> contacts) {
        return contacts.stream().anyMatch(c -> c.side() == usual) ? Side.TOP : usual;
    }

    private static Port port(String name, String label, PortKind kind, Side usual, Look look) {
        return new Port(name, label, kind, look.onSheet(look.side(name).orElse(usual)));
    }

    private static void ports(Part part, List<String> in, List<String> out) {
        for (Block b : part.main().blocks()) {
            var type = Stock.find(b.type()).orElse(null);
            if (type == null) {
                continue;
            }
            for (TerminalPin pin : type.pins(new Settings(type, b.settings()))) {
                (pin.input() ? in : out).add(pin.portOf(b.name()));
            }
        }
    }

    /**
     * A sheet of blocks.
     *
     * @param path the diagram path of the sheet, part and subsystem names joined by {@code /}
     */
    public static SheetScene of(SheetSource w, SheetRef ref, String path) {
        var sheet = w.project().sheet(ref);
        var part = w.project().part(ref.part());
        if (sheet.isEmpty() || part.isEmpty()) {
            return EMPTY;
        }
        return new Builder(w, part.get(), sheet.get(), path).build();
    }

    private static final class Builder {
        private final Part part;
        private final Sheet sheet;
        private final String path;
        private final Set<String> flagged = new HashSet<>();
        private final Map<String, Quantity> variables;
        private Map<String, Map<String, Type>> outputs = Map.of();

        Builder(SheetSource w, Part part, Sheet sheet, String path) {
            this.part = part;
            this.sheet = sheet;
            this.path = path;
            variables = OwnBlocks.scopeAt(w.project(), path, w.variables());
            for (Finding f : w.findings()) {
                String place = f.place().sheetPath().orElse("");
                while (place.contains("/")) {
                    flagged.add(place);
                    place = place.substring(0, place.lastIndexOf('/'));
                }
            }
            Lowered lowered = w.system().parts().get(part.id());
            if (lowered != null) {
                outputs = lowered.outputs();
            }
        }

        SheetScene build() {
            List<Node> nodes = new ArrayList<>();
            for (Block b : sheet.blocks()) {
                nodes.add(node(b));
            }
            List<Link> links = new ArrayList<>();
            for (Wire wire : sheet.wires()) {
                links.add(new Link(wire, type(sheet, path, wire.from(), wire.fromPort(), 0)));
            }
            return new SheetScene(nodes, links, sheet.marks());
        }

        private Node node(Block b) {
            var type = OwnBlocks.type(part.library(), b).orElse(null);
            Face face = Faces.of(part, b).orElse(Face.NONE);
            String chip = b.settings().getOrDefault(Settings.SAMPLE_TIME, "");
            boolean subsystem = type != null && type.role() == BlockType.Role.SUBSYSTEM;
            boolean live = !b.tunable().isEmpty() || b.type().equals("tunable");
            String summary = type == null ? "unknown: " + b.type() : type.summary(new Settings(type, b.settings()));
            summary = subsystem && (summary.isEmpty() || Structure.runs(b.settings()) != null) ? runs(b, type) : summary;
            var picture = type == null ? Picture.NONE : type.picture(new Values(new Settings(type, b.settings()), variables));
            if (picture.isSymbol()) {
                picture = picture.placed(b.look().turn(), b.look().mirrored());
            }
            var plate = new Plate(b.name(), summary, picture, type == null ? Family.STRUCTURE : type.family(),
                    chip.isEmpty() ? "" : chip.equals(Settings.CONTINUOUS) ? chip : "every " + chip, live,
                    type == null || flagged.contains(path + "/" + b.name()), subsystem);
            var inputs = face.inputs().stream().map(Face.In::name).toList();
            return new Node(b.id(), plate, ports(inputs, labels(type, b, face), face.outputs(), face.contacts(), b.look()), b.x(), b.y(),
                    b.look().width(), b.look().height());
        }

        private static String runs(Block b, BlockType type) {
            String runs = Structure.runs(b.settings());
            return runs != null ? "runs " + runs : OwnBlock.holds(b.inner()) ? type.title() : "subsystem";
        }

        /** Signs for sums and products, names for the others. */
        private static List<String> labels(BlockType type, Block b, Face face) {
            boolean signed = type != null && type.hasParameter("signs");
            String signs = signed ? new Settings(type, b.settings()).text("signs").replace('-', '−').replace('*', '×').replace('/', '÷')
                    : "";
            return signed && signs.length() == face.inputs().size() ? List.of(signs.split(""))
                    : face.inputs().stream().map(Face.In::name).toList();
        }

        /** The type at an output, through subsystem borders. */
        private Type type(Sheet s, String at, String blockId, String port, int depth) {
            var b = s.block(blockId).orElse(null);
            if (b == null || depth > 20) {
                return null;
            }
            var types = outputs.get(at + "/" + b.name());
            if (types != null) {
                return types.get(port);
            }
            if (b.type().equals("inlet") && at.contains("/")) {
                return outside(at, b.name(), depth);
            }
            var inner = part.sheet(b.inner());
            if (inner.isEmpty()) {
                return null;
            }
            for (Block c : inner.get().blocks()) {
                if (c.type().equals("outlet") && c.name().equals(port)) {
                    return inner.get().wireInto(c.id(), "u")
                            .map(w -> type(inner.get(), at + "/" + b.name(), w.from(), w.fromPort(), depth + 1)).orElse(null);
                }
            }
            return null;
        }

        /** What drives an inlet from the sheet around. */
        private Type outside(String at, String inlet, int depth) {
            String outerPath = at.substring(0, at.lastIndexOf('/'));
            String self = at.substring(at.lastIndexOf('/') + 1);
            Sheet outer = sheetAt(outerPath);
            if (outer == null) {
                return null;
            }
            return outer.blocks().stream().filter(b -> b.name().equals(self)).findFirst()
                    .flatMap(b -> outer.wireInto(b.id(), inlet))
                    .map(w -> type(outer, outerPath, w.from(), w.fromPort(), depth + 1)).orElse(null);
        }

        private Sheet sheetAt(String wanted) {
            String[] words = wanted.split("/");
            Sheet s = part.main();
            for (int i = 1; i < words.length; i++) {
                String name = words[i];
                s = s.blocks().stream().filter(b -> b.name().equals(name)).findFirst()
                        .flatMap(b -> part.sheet(b.inner())).orElse(null);
                if (s == null) {
                    return null;
                }
            }
            return s;
        }
    }
}
