package boldanvil.core.lower;

import boldanvil.core.stock.Settings;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.FlatBlock.SampleTime;
import boldanvil.core.lower.FlatBlock.Source;
import boldanvil.core.network.Joined;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.OwnBlocks;
import boldanvil.core.stock.Stock;
import boldanvil.core.stock.Structure;
import boldanvil.core.text.Mistake;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Dissolves subsystems: what remains are ordinary blocks joined output to input. */
final class Flattener {
    private static final int MAX_DEPTH = 40;
    /** Caps, so that a few subsystems within each other cannot grow without bound. */
    private static final int MAX_BLOCKS = 500_000;
    private static final int MAX_COPIES = 50_000;

    private final Part part;
    private final Map<String, Quantity> variables;
    private final List<Finding> findings;
    private final Set<FlatBlock> unreadable = new HashSet<>();
    private final List<FlatBlock> flat = new ArrayList<>();
    private final Map<FlatBlock, Level> levels = new IdentityHashMap<>();
    /** Fields of bundles that are blocks of their own, by name. */
    private final Map<FlatBlock, Map<String, FlatBlock>> fields = new IdentityHashMap<>();
    private final Joined<Networks.Pin> nets = new Joined<>();
    private boolean tooLarge;
    private int copies;
    private int hops;

    /** @param variables values of the project's variables */
    Flattener(Part part, Map<String, Quantity> variables, List<Finding> findings) {
        this.part = part;
        this.variables = variables;
        this.findings = findings;
    }

    List<FlatBlock> flatten() {
        new Level(part.main(), part.id(), List.of(part.main().id()), variables, new SampleTime(part.sampleTime(), variables), null).build();
        flat.removeIf(f -> f.type().role().isRouting() || f.bundle() != null && f.source(0) == null);
        return flat;
    }

    /** Which contacts are one net. */
    Joined<Networks.Pin> nets() {
        return nets;
    }

    private void tooLarge(String what, int limit) {
        if (!tooLarge) {
            tooLarge = true;
            findings.add(Finding.error(Place.sheet(part.id()), "The part has more than " + limit + " " + what + ".",
                    "Divide it, or look for subsystems that are nested many times."));
        }
    }

    /** A port of a block. */
    private record End(String block, String port) {}

    /** One copy of a sheet. */
    private final class Level {
        private final Sheet sheet;
        private final String path;
        private final List<String> chain;
        /** What formulas of this sheet may name. */
        private final Map<String, Quantity> scope;
        private final SampleTime sampleTime;
        private final Group group;
        private final Map<String, FlatBlock> blocks = new LinkedHashMap<>();
        private final Map<String, Level> subsystems = new HashMap<>();
        private final Map<End, Wire> drivers = new HashMap<>();
        /** Blocks that others refer to by their names. */
        private final Map<String, FlatBlock> labels = new HashMap<>();
        private final Map<String, FlatBlock> inlets = new HashMap<>();
        private final Map<String, FlatBlock> outlets = new HashMap<>();
        /** Network ports of a subsystem. */
        private final Map<String, FlatBlock> contacts = new HashMap<>();
        /** The sheet around this one, where it stands as the block {@code asBlock}; null for the part's own sheet. */
        private Level outer;
        private Block asBlock;

        Level(Sheet sheet, String path, List<String> chain, Map<String, Quantity> scope, SampleTime sampleTime, Group group) {
            this.sheet = sheet;
            this.path = path;
            this.chain = chain;
            this.scope = scope;
            this.sampleTime = sampleTime;
            this.group = group;
        }

        void build() {
            create();
            connect();
        }

        /** Makes the blocks and notes the wires, here and in all subsystems, before anything is connected. */
        private void create() {
            for (Wire w : sheet.wires()) {
                if (!w.isNet() && drivers.putIfAbsent(new End(w.to(), w.toPort()), w) != null) {
                    findings.add(Finding.error(Place.sheet(path + "/" + nameOf(w.to()), w.toPort()),
                            "Two wires drive this input.", "Delete one of them."));
                }
            }
            Set<String> names = new HashSet<>();
            Set<String> ids = new HashSet<>();
            for (Block b : sheet.blocks()) {
                if (!ids.add(b.id())) {
                    findings.add(Finding.error(Place.sheet(place(b)), "Another block of this sheet has the id '" + b.id() + "' too.",
                            "Give one of them another id in the file."));
                    continue;
                }
                if (!names.add(Names.address(b.name()))) {
                    findings.add(Finding.error(Place.sheet(place(b)), "Another block of this sheet has this name too.",
                            "Rename one of them."));
                }
                var type = Stock.find(b.type());
                if (type.isEmpty()) {
                    findings.add(Finding.error(Place.sheet(place(b)), "There is no block type '" + b.type() + "' in the stock.",
                            "Replace the block, or correct its type in the file."));
                } else if (type.get().role() == BlockType.Role.SUBSYSTEM) {
                    descend(b);
                } else if (flat.size() < MAX_BLOCKS) {
                    var f = new FlatBlock(place(b), b, type.get(), chain.size() - 1, scope, group);
                    levels.put(f, this);
                    for (Mistake m : type.get().mistakes(f.settings())) {
                        unreadable.add(f);
                        findings.add(Finding.error(new Place.Line(f.path(), m.line(), m.column()), m.located(), m.cure()));
                    }
                    f.inherit(sampleTimeOf(b));
                    blocks.put(b.id(), f);
                    flat.add(f);
                    switch (type.get().role()) {
                        case LABEL -> labels.putIfAbsent(b.name(), f);
                        case INLET -> inlets.putIfAbsent(b.name(), f);
                        case OUTLET -> outlets.putIfAbsent(b.name(), f);
                        case CONTACT -> contacts.putIfAbsent(b.name(), f);
                        default -> { }
                    }
                    if (type.get().role() == BlockType.Role.BUNDLE) {
                        fields(f);
                    }
                } else {
                    tooLarge("blocks", MAX_BLOCKS);
                }
            }
        }

        /** Makes blocks of a bundle's fields where they have types or are part of a struct. */
        private void fields(FlatBlock bundle) {
            for (Structure.Field field : Structure.fields(bundle.settings().text("fields"))) {
                if (!field.isKnown()) {
                    findings.add(Finding.error(Place.sheet(bundle.path()), "The field '" + field.name() + "' has the type '" + field.type()
                            + "', which does not exist.",
                            "Write bool, int8, uint8, int16, uint16, int32, uint32, float32, float64 or real."));
                }
                if (bundle.isStruct() || !field.type().isEmpty()) {
                    Block b = bundle.block();
                    var f = new FlatBlock(bundle.path() + "." + field.name(),
                            Block.of(b.id(), Structure.BUNDLE_FIELD.id(), b.name() + "." + field.name(),
                            b.x(), b.y(), Map.of("field", field.text())), Structure.BUNDLE_FIELD, chain.size() - 1, scope, group, bundle);
                    f.inherit(bundle.sampleTime());
                    fields.computeIfAbsent(bundle, _ -> new LinkedHashMap<>()).put(field.name(), f);
                    flat.add(f);
                }
            }
        }

        private void descend(Block b) {
            if (++copies > MAX_COPIES) {
                tooLarge("copies of sheets", MAX_COPIES);
                return;
            }
            String sheetId = b.inner();
            var inner = part.sheet(sheetId);
            if (inner.isEmpty() && OwnBlock.holds(sheetId)) {
                String id = OwnBlock.owner(sheetId);
                findings.add(Finding.error(Place.sheet(place(b)), "The project has no own block '" + id + "'.", "Put the file blocks/" + id
                        + ".json back into the project's folder, or delete the block."));
                return;
            }
            if (inner.isEmpty()) {
                findings.add(Finding.error(Place.sheet(place(b)), "Its sheet '" + sheetId + "' does not exist in this part.",
                        "Choose an existing sheet, or delete the subsystem."));
                return;
            }
            if (chain.contains(sheetId)) {
                findings.add(Finding.error(Place.sheet(place(b)), "The subsystem contains itself: " + String.join(" → ",
                        chain.subList(chain.indexOf(sheetId), chain.size())) + " → " + sheetId + ".",
                        "Remove one of these subsystems from the cycle."));
                return;
            }
            if (chain.size() > MAX_DEPTH) {
                findings.add(Finding.error(Place.sheet(place(b)), "Subsystems are nested deeper than " + MAX_DEPTH + ".",
                        "Flatten the sheets."));
                return;
            }
            var longer = new ArrayList<>(chain);
            longer.add(sheetId);
            Group innerGroup = Structure.runs(b.settings()) == null ? group : new Group(place(b), group, b);
            var level = new Level(inner.get(), place(b), longer, within(b), sampleTimeOf(b), innerGroup);
            level.outer = this;
            level.asBlock = b;
            subsystems.put(b.id(), level);
            level.create();
        }

        private SampleTime sampleTimeOf(Block b) {
            String own = b.settings().get(Settings.SAMPLE_TIME);
            return own == null ? sampleTime : new SampleTime(own, scope);
        }

        /** What formulas within a subsystem may name. */
        private Map<String, Quantity> within(Block b) {
            var own = part.library().of(b);
            if (own.isEmpty()) {
                return scope;
            }
            Set<String> wrong = new HashSet<>();
            var inner = OwnBlocks.scope(own.get(), b, scope, (p, e) -> {
                findings.add(Finding.error(Place.sheet(place(b), p.name()), e.getMessage(), "Correct the value of '" + p.name() + "'."));
                wrong.add(p.name());
            });
            // One finding is enough: the formulas that name it are not at fault.
            wrong.forEach(name -> inner.put(name, Quantity.bare(1)));
            return inner;
        }

        private void connect() {
            subsystems.forEach(this::connectInner);
            for (var entry : blocks.entrySet()) {
                FlatBlock f = entry.getValue();
                for (int i = 0; i < f.face().inputs().size(); i++) {
                    var in = f.face().inputs().get(i);
                    Source s = traced(f, in.name());
                    f.connect(i, s);
                    if (s != null && s.block().type().role() == BlockType.Role.BUNDLE && !f.type().role().isRouting()) {
                        if (isPassed(f)) {
                            f.connect(i, null);
                        } else {
                            findings.add(Finding.error(Place.sheet(f.path(), in.name()),
                                    "The input receives a bundle, but needs one signal.", "Insert a Field block."));
                        }
                        s = null;
                    }
                    FlatBlock field = fieldBlock(f, in.name(), s);
                    if (field != null) {
                        field.connect(0, s);
                    }
                    boolean wired = drivers.containsKey(new End(entry.getKey(), in.name()));
                    if (s == null && !wired && !in.optional()) {
                        findings.add(Finding.error(Place.sheet(f.path(), in.name()), "The input is not connected.",
                                "Draw a wire to it, or delete the block."));
                    }
                }
            }
            for (Wire w : sheet.wires()) {
                if (unreadable.contains(blocks.get(w.to())) || unreadable.contains(blocks.get(w.from()))) {
                    // Its ports are not known before its text can be read.
                    continue;
                }
                if (w.isNet()) {
                    checkNet(w);
                } else if (!hasPort(w.to(), w.toPort(), true)) {
                    findings.add(dangling(w, w.to(), w.toPort()));
                } else if (!hasPort(w.from(), w.fromPort(), false)) {
                    findings.add(dangling(w, w.from(), w.fromPort()));
                }
            }
        }

        private void connectInner(String blockId, Level inner) {
            if (Structure.isConditional(inner.asBlock.settings())) {
                Wire w = drivers.get(new End(blockId, Structure.CONTROL));
                Source control = w == null ? null : outputOf(w.from(), w.fromPort());
                inner.group.control(control);
                if (control == null) {
                    findings.add(Finding.error(Place.sheet(inner.path, Structure.CONTROL), "The subsystem runs only under a condition, but "
                            + "nothing drives its control input.", "Draw a wire to it, or let it run always."));
                }
            }
            for (FlatBlock f : inner.blocks.values()) {
                boolean wired = drivers.containsKey(new End(blockId, f.block().name()));
                if (f.type().role() == BlockType.Role.INLET && !wired) {
                    findings.add(Finding.error(Place.sheet(inner.path, f.block().name()), "The input is not connected.",
                            "Draw a wire to it, or delete the inlet inside."));
                }
            }
            inner.connect();
        }

        /** Whether a wire only passes here on its way out of a subsystem that is merged with its surroundings. */
        private boolean isPassed(FlatBlock f) {
            return f.type().role() == BlockType.Role.OUTLET && outer != null && group == outer.group;
        }

        /** The contact at an end of a net, through subsystem borders; null where there is none. */
        private Networks.Pin pin(String blockId, String port) {
            FlatBlock f = blocks.get(blockId);
            if (f != null) {
                return f.face().hasContact(port) ? new Networks.Pin(f, port) : null;
            }
            Level inner = subsystems.get(blockId);
            FlatBlock border = inner == null ? null : inner.contacts.get(port);
            return border == null ? null : new Networks.Pin(border, border.face().contacts().getFirst().name());
        }

        /** A net joins contacts; what they make of it is stated where their equations are. */
        private void checkNet(Wire w) {
            for (String[] end : new String[][] {{w.from(), w.fromPort()}, {w.to(), w.toPort()}}) {
                if (hasPort(end[0], end[1], true) || hasPort(end[0], end[1], false)) {
                    findings.add(Finding.error(Place.sheet(path + "/" + nameOf(end[0]), end[1]), "A net joins a port that has a direction.",
                            "Delete the net, and draw a wire from an output to an input."));
                    return;
                }
                if (pin(end[0], end[1]) == null) {
                    if (blocks.containsKey(end[0]) || subsystems.containsKey(end[0])) {
                        findings.add(dangling(w, end[0], end[1]));
                    }
                    return;
                }
            }
            nets.join(pin(w.from(), w.fromPort()), pin(w.to(), w.toPort()));
        }

        private Finding dangling(Wire w, String end, String port) {
            return Finding.error(Place.sheet(path + "/" + nameOf(end), port), "A wire between '" + nameOf(w.from()) + "' and '"
                    + nameOf(w.to()) + "' ends at a port that does not exist.", "Delete the wire, or draw it to an existing port.");
        }

        private boolean hasPort(String blockId, String port, boolean input) {
            FlatBlock f = blocks.get(blockId);
            if (f != null) {
                return input ? f.face().input(port).isPresent() : f.face().outputs().contains(port);
            }
            Level inner = subsystems.get(blockId);
            return inner == null ? sheet.block(blockId).isPresent() : inner.boundary(port, input) != null
                    || input && port.equals(Structure.CONTROL) && Structure.isConditional(inner.asBlock.settings());
        }

        /** The inlet or outlet with a name. */
        private FlatBlock boundary(String name, boolean inlet) {
            return (inlet ? inlets : outlets).get(name);
        }

        /** The ordinary output behind an input, through subsystem borders. */
        private Source driverOf(String blockId, String port) {
            FlatBlock self = blocks.get(blockId);
            if (self != null && self.type().role() == BlockType.Role.INLET) {
                return null;
            }
            Wire w = drivers.get(new End(blockId, port));
            return w == null ? null : outputOf(w.from(), w.fromPort());
        }

        /** The driver of an input of this very level; counts how many borders the wire crosses. */
        private Source traced(FlatBlock f, String port) {
            hops = 0;
            Source s = driverOf(f.block().id(), port);
            if (hops > MAX_DEPTH * 4) {
                findings.add(Finding.error(Place.sheet(f.path(), port), "The wire forms a cycle through subsystem borders and has no "
                        + "source block.", "Break the cycle: drive it from a block."));
            }
            return s;
        }

        private Source outputOf(String blockId, String port) {
            if (++hops > MAX_DEPTH * 4) {
                return null;
            }
            FlatBlock f = blocks.get(blockId);
            if (f != null) {
                if (f.type().role() == BlockType.Role.INLET && outer != null) {
                    Wire w = outer.drivers.get(new End(asBlock.id(), f.block().name()));
                    return w == null ? null : outer.outputOf(w.from(), w.fromPort());
                }
                if (f.type().role() == BlockType.Role.LABELLED) {
                    return named(f);
                }
                if (f.type().role() == BlockType.Role.FIELD) {
                    return field(f);
                }
                int index = f.face().outputs().indexOf(port);
                return index < 0 ? null : new Source(f, index);
            }
            Level inner = subsystems.get(blockId);
            FlatBlock outlet = inner == null ? null : inner.boundary(port, false);
            return outlet == null ? null : inner.driverOf(outlet.block().id(), "u");
        }

        /** The wire a name stands for. */
        private Source named(FlatBlock f) {
            String wanted = f.settings().text("wire").strip();
            FlatBlock label = labels.get(wanted);
            if (label != null) {
                return driverOf(label.block().id(), "u");
            }
            unresolved(f, "This sheet has no Wire label block with the name '" + wanted + "'.", "Enter the name of one.");
            return null;
        }

        /** The signal a field of a bundle stands for, through bundles within bundles. */
        private Source field(FlatBlock f) {
            Source s = driverOf(f.block().id(), "u");
            for (String name : f.settings().text("field").strip().split("\\.")) {
                if (s == null) {
                    return null;
                }
                FlatBlock bundle = s.block();
                if (bundle.type().role() != BlockType.Role.BUNDLE) {
                    unresolved(f, "The wire does not carry a bundle.", "Connect a wire that comes from a Bundle block.");
                    return null;
                }
                if (bundle.face().input(name).isEmpty()) {
                    unresolved(f, "The bundle has no field '" + name + "'.", "Choose one of: " + String.join(", ",
                            bundle.face().inputs().stream().map(Face.In::name).toList()) + ".");
                    return null;
                }
                s = levels.get(bundle).driverOf(bundle.block().id(), name);
                FlatBlock own = fieldBlock(bundle, name, s);
                if (own != null) {
                    s = new Source(own, 0);
                }
            }
            return s;
        }

        /** The block a bundle's field is, given what drives it; null where it is none, and for a bundle within. */
        private FlatBlock fieldBlock(FlatBlock bundle, String name, Source driver) {
            boolean one = driver != null && driver.block().type().role() != BlockType.Role.BUNDLE;
            return one ? fields.getOrDefault(bundle, Map.of()).get(name) : null;
        }

        private void unresolved(FlatBlock f, String cause, String cure) {
            var finding = Finding.error(Place.sheet(f.path()), cause, cure);
            if (!findings.contains(finding)) {
                findings.add(finding);
            }
        }

        private String place(Block b) {
            return path + "/" + b.name();
        }

        private String nameOf(String blockId) {
            return sheet.block(blockId).map(Block::name).orElse(blockId);
        }
    }
}
