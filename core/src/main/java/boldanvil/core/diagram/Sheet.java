package boldanvil.core.diagram;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;

/**
 * One diagram: blocks and the wires between them.
 *
 * @param marks frames and notes
 */
public record Sheet(String id, List<Block> blocks, List<Wire> wires, List<Mark> marks) {
    /** What blocks, marks and ports snap to, in sheet units. */
    public static final double GRID = 10;

    public Sheet {
        blocks = List.copyOf(blocks);
        wires = List.copyOf(wires);
        marks = List.copyOf(marks);
    }

    public Sheet(String id, List<Block> blocks, List<Wire> wires) {
        this(id, blocks, wires, List.of());
    }

    /** The nearest place on the grid. */
    public static double onGrid(double v) {
        return Math.round(v / GRID) * GRID;
    }

    public static Sheet empty(String id) {
        return new Sheet(id, List.of(), List.of());
    }

    public Optional<Block> block(String blockId) {
        return blocks.stream().filter(b -> b.id().equals(blockId)).findFirst();
    }

    /** The wire that drives an input, if any. */
    public Optional<Wire> wireInto(String blockId, String port) {
        return wires.stream().filter(w -> w.drives(blockId, port)).findFirst();
    }

    public Sheet withBlocks(List<Block> next) {
        return new Sheet(id, next, wires, marks);
    }

    public Sheet withWires(List<Wire> next) {
        return new Sheet(id, blocks, next, marks);
    }

    public Sheet withMarks(List<Mark> next) {
        return new Sheet(id, blocks, wires, next);
    }

    public Optional<Mark> mark(String markId) {
        return marks.stream().filter(m -> m.id().equals(markId)).findFirst();
    }

    public Sheet add(Block block) {
        var next = new ArrayList<>(blocks);
        next.add(block);
        return withBlocks(next);
    }

    /** Adds a wire; what drove its input before is replaced. A net is added once. */
    public Sheet add(Wire wire) {
        var next = new ArrayList<>(wires);
        next.removeIf(w -> wire.isNet() ? w.joinsSame(wire) : w.drives(wire.to(), wire.toPort()));
        next.add(wire);
        return withWires(next);
    }

    /** The wires from an output to blocks that compute with it: all but those to taps. */
    public List<Wire> driven(String blockId, String port) {
        return wires.stream().filter(w -> !w.isNet() && w.from().equals(blockId) && w.fromPort().equals(port)
                && block(w.to()).filter(b -> b.type().equals("tap")).isEmpty()).toList();
    }

    /** The same with some wires that begin at another output instead. */
    public Sheet redriven(List<Wire> ends, String blockId, String port) {
        Sheet next = this;
        for (Wire w : ends) {
            next = next.add(new Wire(blockId, port, w.to(), w.toPort()));
        }
        return next;
    }

    /** The same with a tap at an output. */
    public Sheet tapped(String blockId, String port, String name) {
        String id = freshId();
        return add(Block.of(id, "tap", name, 0, 0, Map.of())).add(new Wire(blockId, port, id, "u"));
    }

    /** Removes blocks together with the wires at their ports. */
    public Sheet removeBlocks(Set<String> ids) {
        return withBlocks(blocks.stream().filter(b -> !ids.contains(b.id())).toList())
                .withWires(wires.stream().filter(w -> !ids.contains(w.from()) && !ids.contains(w.to())).toList());
    }

    public Sheet remove(Wire wire) {
        return withWires(wires.stream().filter(w -> !w.equals(wire)).toList());
    }

    public Sheet change(String blockId, UnaryOperator<Block> how) {
        return withBlocks(Project.replace(blocks, b -> b.id().equals(blockId), how));
    }

    /** An id no block of this sheet has yet. */
    public String freshId() {
        int n = blocks.size() + 1;
        while (hasId("b" + n)) {
            n++;
        }
        return "b" + n;
    }

    private boolean hasId(String candidate) {
        return block(candidate).isPresent();
    }

    /** The same with one more mark, under an id no mark of this sheet has yet. */
    public Sheet add(Mark mark) {
        int n = marks.size() + 1;
        while (mark("m" + n).isPresent()) {
            n++;
        }
        var next = new ArrayList<>(marks);
        next.add(mark.identified("m" + n));
        return withMarks(next);
    }

    /** A name like the one wanted that no block of this sheet has yet. */
    public String freshName(String wanted) {
        String name = wanted;
        for (int n = 2; hasName(name); n++) {
            name = wanted + " " + n;
        }
        return name;
    }

    private boolean hasName(String candidate) {
        return blocks.stream().anyMatch(b -> b.name().equals(candidate));
    }
}
