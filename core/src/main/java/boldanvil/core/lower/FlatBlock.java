package boldanvil.core.lower;

import boldanvil.core.diagram.Block;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Structure;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** One block of a flattened part, with what the passes found out about it. */
final class FlatBlock {
    /** Rate of blocks that never change. */
    static final long CONSTANT = -1;
    /** Rate of the continuous part. */
    static final long CONTINUOUS = 0;

    /** An output of another block. */
    record Source(FlatBlock block, int output) {}

    /** A sample time as it was given, and what its formula may name. */
    record SampleTime(String text, Map<String, Quantity> variables) {}

    private final String path;
    private final Block block;
    private final BlockType type;
    private final Settings settings;
    private final Face face;
    private final int depth;
    private final List<Source> sources = new ArrayList<>();
    private final List<Type> outputTypes = new ArrayList<>();
    private final int[] widths;
    private final Map<String, Quantity> variables;
    private final Group group;
    private final FlatBlock bundle;
    private SampleTime sampleTime;
    private long rateNanos = CONSTANT;

    /** @param variables what its formulas may name */
    FlatBlock(String path, Block block, BlockType type, int depth, Map<String, Quantity> variables, Group group) {
        this(path, block, type, depth, variables, group, null);
    }

    /** @param bundle the bundle of which it is a field; null for any other block */
    FlatBlock(String path, Block block, BlockType type, int depth, Map<String, Quantity> variables, Group group, FlatBlock bundle) {
        this.path = path;
        this.block = block;
        this.type = type;
        this.settings = new Settings(type, block.settings());
        this.face = type.face(settings);
        this.depth = depth;
        this.variables = variables;
        this.group = group;
        this.bundle = bundle;
        face.inputs().forEach(_ -> sources.add(null));
        face.outputs().forEach(_ -> outputTypes.add(null));
        widths = new int[face.outputs().size()];
    }

    /** Part, subsystems and name, joined by {@code /}. */
    public String path() {
        return path;
    }

    public Block block() {
        return block;
    }

    public BlockType type() {
        return type;
    }

    public Face face() {
        return face;
    }

    Settings settings() {
        return settings;
    }

    /** Whether it lies on the part's own sheet. */
    boolean isTop() {
        return depth == 0;
    }

    List<Source> sources() {
        return sources;
    }

    Source source(int input) {
        return sources.get(input);
    }

    void connect(int input, Source source) {
        sources.set(input, source);
    }

    /** Sample time in nanoseconds; 0 in the continuous part, negative for a constant. */
    public long rateNanos() {
        return rateNanos;
    }

    void rate(long nanos) {
        rateNanos = nanos;
    }

    /** Its own sample time, or that of its surroundings. */
    SampleTime sampleTime() {
        return sampleTime;
    }

    void inherit(SampleTime given) {
        sampleTime = given;
    }

    /** What its formulas may name. */
    Map<String, Quantity> variables() {
        return variables;
    }

    /** The type of an output; null when it could not be found. */
    public Type outputType(int output) {
        return outputTypes.get(output);
    }

    void outputType(int output, Type t) {
        outputTypes.set(output, t);
    }

    /** Number of elements of an output. */
    public int width(int output) {
        return Math.max(1, widths[output]);
    }

    /** The number, or 0 where it is not known yet. */
    int knownWidth(int output) {
        return widths[output];
    }

    void width(int output, int elements) {
        widths[output] = elements;
    }

    /** The subsystem that runs as one and holds this block most closely; null for none. */
    Group group() {
        return group;
    }

    /** The bundle that is a struct in generated code and has this block as its field; null for none. */
    FlatBlock struct() {
        return bundle != null && bundle.isStruct() ? bundle : null;
    }

    /** Whether a bundle is to be a struct in generated code. */
    boolean isStruct() {
        return settings.text("in code").equals(Structure.AS_STRUCT);
    }

    /** The bundle of which this is a field. */
    FlatBlock bundle() {
        return bundle;
    }

    Type inputType(int input) {
        Source s = sources.get(input);
        return s == null ? null : s.block().outputType(s.output());
    }

    /** The most elements of any of its signals. */
    int elements() {
        int n = 0;
        for (int o = 0; o < face().outputs().size(); o++) {
            n = Math.max(n, width(o));
        }
        for (var s : sources()) {
            n = Math.max(n, s == null ? 0 : s.block().width(s.output()));
        }
        return n;
    }

    @Override
    public String toString() {
        return path;
    }
}
