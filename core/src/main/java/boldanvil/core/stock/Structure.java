package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.list;
import static boldanvil.core.stock.Parameter.text;

import boldanvil.core.diagram.Side;
import boldanvil.core.network.Domain;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Blocks that give a sheet its structure. Lowering knows them by their role. */
public final class Structure {
    /** The choice of a subsystem that runs as one, always. */
    public static final String AS_ONE = "as one";
    /** The control input of a conditional subsystem. */
    public static final String CONTROL = "control";

    /** The choice of a bundle that is a struct in generated code. */
    public static final String AS_STRUCT = "as a struct";

    private static final String DISSOLVED = "always";

    static final BlockType SUBSYSTEM = BlockType.named("subsystem", "Subsystem", Family.STRUCTURE)
            .help("A sheet inside a block. Its ports are the inlets and outlets on that sheet. A sample time set here applies "
                    + "to all blocks inside that do not set their own. It may run as one, which keeps its blocks together in the "
                    + "code; only while its control input is on; or once at each edge of it. While it does not run, its outputs "
                    + "keep their values and its blocks use no computing time. Their blocks then have one sample time.")
            .with(text("sheet", "", "The sheet inside."),
                    choice("runs", "When the blocks inside run. 'always' merges them with the blocks outside.", DISSOLVED, AS_ONE,
                            "while on", "on rising edge", "on falling edge", "on any edge")
                            .formerly(Map.of("on rise", "on rising edge", "on fall", "on falling edge", "on change", "on any edge")),
                    choice("when switched on", "What the states inside do when the subsystem is switched on again.", "continue", "restart")
                    .formerly(Map.of("go on", "continue")))
            .role(BlockType.Role.SUBSYSTEM).does(_ -> { });

    static final BlockType INLET = BlockType.named("inlet", "Inlet", Family.STRUCTURE).picture(Pictures::arrowIn)
            .units(Kinds.stated("y"))
            .help("Where a signal enters this sheet. On a part's own sheet: a port of the part.")
            .with(choice("type", "Type of the signal; counts on a part's own sheet.", "real", "bool", "int8", "uint8", "int16", "uint16",
            "int32", "uint32",
                    "float32", "float64"), text("unit", "", "Unit of the signal."))
            .face(Face.NONE.out("y")).summary("in {unit}").type((_, s, real) -> Sources.typeNamed(s.text("type"), real))
            .port(BlockType.Role.INLET).does(e -> e.output("y", e.in("pin")));

    static final BlockType OUTLET = BlockType.named("outlet", "Outlet", Family.STRUCTURE).picture(Pictures::arrowOut)
            .help("Where a signal leaves this sheet. On a part's own sheet: a port of the part.")
            .with(text("unit", "", "Unit of the signal."))
            .face(Face.NONE.in("u", Accept.ANY)).summary("out {unit}").port(BlockType.Role.OUTLET)
            .does(e -> e.output("pin", e.in("u")));

    static final BlockType TAP = BlockType.named("tap", "Tap", Family.STRUCTURE).picture(Pictures::recorded)
            .help("Records the signal under this block's name.")
            .with(text("unit", "", "Unit of the signal."))
            .face(Face.NONE.in("u", Accept.ANY)).summary("records {unit}").role(BlockType.Role.TAP)
            .does(_ -> { });

    static final BlockType LABEL = BlockType.named("label", "Wire label", Family.STRUCTURE)
            .help("Gives the wire at its input a name. Every 'Wire from label' block of the same sheet with this name continues the wire.")
            .face(Face.NONE.in("u", Accept.OWN)).summary("labels the wire").role(BlockType.Role.LABEL).does(_ -> { });

    static final BlockType LABELLED = BlockType.named("from label", "Wire from label", Family.STRUCTURE)
            .help("Continues the wire that a 'Wire label' block of this sheet names.")
            .with(text("wire", "", "The name of the Wire label block."))
            .face(Face.NONE.out("y")).summary("continues {wire}").role(BlockType.Role.LABELLED).does(_ -> { });

    static final BlockType BUNDLE = BlockType.named("bundle", "Bundle", Family.STRUCTURE)
            .help("Combines signals of any width into one wire with named fields. A bundle may cross subsystem borders; a Field block "
                    + "extracts one signal. A field written as name: type (bool, int8 … float64, real) accepts only that type. In "
                    + "generated "
                    + "code the signals are separate members, or together a struct that other code may read; a bundle within a bundle is "
                    + "then "
                    + "a nested struct.")
            .with(text("fields", "a, b", "Names of the fields, separated by commas; with their types, if they are to be checked."),
                    choice("in code", "Form of the fields in generated code.", "separate", AS_STRUCT)
                    .formerly(Map.of("by themselves", "separate")))
            .face(s -> {
                Face f = Face.NONE;
                for (Field field : fields(s.text("fields"))) {
                    f = field.in(f, field.name(), Accept.OWN);
                }
                return f.out("y");
            }).summary("{fields}").role(BlockType.Role.BUNDLE).does(_ -> { });

    /** What a field of a bundle becomes that has a type or is part of a struct; not in the stock. */
    public static final BlockType BUNDLE_FIELD = BlockType.named("bundle field", "Field of a bundle", Family.STRUCTURE)
            .help("y = u.").with(text("field", "a", "As in the bundle."))
            .face(s -> fields(s.text("field")).getFirst().in(Face.NONE, "u", Accept.ANY).out("y"))
            .type((in, s, _) -> typed(fields(s.text("field")).getFirst(), in.getFirst()))
            .does(e -> e.output("y", e.in("u")));

    static final BlockType FIELD = BlockType.named("field", "Field", Family.STRUCTURE)
            .help("y = one field of a bundle.")
            .with(text("field", "a", "Name of the field; dots separate nested bundles."))
            .face(Face.NONE.in("u", Accept.OWN).out("y")).summary("{field}").role(BlockType.Role.FIELD).does(_ -> { });

    static final BlockType JOIN = BlockType.named("join", "Join to vector", Family.STRUCTURE)
            .help("y = a vector of all elements of the inputs, in order. All inputs have the same type.")
            .with(choice("inputs", "Number of inputs.", "2", "3", "4", "5", "6", "7", "8"))
            .face(s -> {
                Face f = Face.NONE;
                for (int i = 1; i <= Integer.parseInt(s.text("inputs")); i++) {
                    f = f.in("u" + i, Accept.ANY);
                }
                return f.out("y");
            }).summary("vector of {inputs}").shape((_, in, _, _) -> in.contains(0) ? 0 : in.stream().mapToInt(Integer::intValue).sum())
            .does(e -> {
                var all = new ArrayList<Expr>();
                for (int i = 1; i <= Integer.parseInt(e.text("inputs")); i++) {
                    all.addAll(e.elements("u" + i));
                }
                e.outputs("y", all);
            });

    static final BlockType SPLIT = BlockType.named("split", "Split vector", Family.STRUCTURE)
            .help("y1, y2 … = the elements of the vector u. The vector must have as many elements as there are outputs.")
            .with(choice("outputs", "Number of outputs.", "2", "3", "4", "5", "6", "7", "8"))
            .face(s -> {
                Face f = Face.NONE.in("u", Accept.ANY);
                for (int i = 1; i <= Integer.parseInt(s.text("outputs")); i++) {
                    f = f.out("y" + i);
                }
                return f;
            }).summary("{outputs} elements").shape((_, _, _, _) -> 1)
            .does(e -> {
                var all = e.elements("u");
                int n = Integer.parseInt(e.text("outputs"));
                if (all.size() != n) {
                    e.problem("The vector has " + all.size() + " elements, the block " + n + " outputs.", "Use the same number.");
                }
                for (int i = 0; i < n; i++) {
                    e.output("y" + (i + 1), all.get(Math.min(i, all.size() - 1)));
                }
            });

    static final BlockType PICK = BlockType.named("pick", "Pick elements", Family.STRUCTURE)
            .help("y = the elements of u with the given numbers, counted from 1.")
            .with(list("elements", "[1]", "", "Numbers of the elements."))
            .face(Face.NONE.in("u", Accept.ANY).out("y")).summary("elements {elements}")
            .shape((_, _, _, lengths) -> lengths.applyAsInt("elements"))
            .does(e -> {
                var all = e.elements("u");
                var some = new ArrayList<Expr>();
                for (double i : e.list("elements")) {
                    if (i != Math.rint(i) || i < 1 || i > all.size()) {
                        e.problem("There is no element " + i + " among " + all.size() + ".",
                                "Enter whole numbers from 1 to " + all.size() + ".");
                        return;
                    }
                    some.add(all.get((int) i - 1));
                }
                e.outputs("y", some);
            });

    static final BlockType NETWORK_PORT = BlockType.named("network port", "Network port", Family.STRUCTURE)
            .help("A contact of the subsystem this sheet is inside, with the name of this block.")
            .with(choice("domain", "What flows through it.", Arrays.stream(Domain.values()).map(Domain::label).toArray(String[]::new)))
            .face(s -> Face.NONE.contact("a", Side.RIGHT, Domain.labelled(s.text("domain")))).summary("{domain}")
            .role(BlockType.Role.CONTACT).does(_ -> { });

    static final List<BlockType> TYPES = List.of(SUBSYSTEM, INLET, OUTLET, TAP, NETWORK_PORT, LABEL, LABELLED, BUNDLE, FIELD, JOIN, SPLIT,
            PICK);

    private Structure() {}

    private static Type typed(Field field, Type wire) {
        Type exact = Type.labelled(field.type());
        return exact == null ? wire : exact;
    }

    /**
     * A field of a bundle.
     *
     * @param type its type, {@code real} for the part's; empty for any
     */
    public record Field(String name, String type) {
        private Face in(Face face, String port, Accept untyped) {
            Type exact = Type.labelled(type);
            return exact != null ? face.in(port, exact) : face.in(port, type.equals("real") ? Accept.REAL : untyped);
        }

        /** As the bundle states it. */
        public String text() {
            return type.isEmpty() ? name : name + ": " + type;
        }

        /** Whether there is such a type. */
        public boolean isKnown() {
            return type.isEmpty() || type.equals("real") || Type.labelled(type) != null;
        }
    }

    /** The fields that a bundle's list states; of like names only the first. */
    public static List<Field> fields(String text) {
        Map<String, Field> fields = new LinkedHashMap<>();
        for (String part : text.split(",")) {
            String[] words = part.split(":", 2);
            String name = words[0].strip();
            if (!name.isEmpty()) {
                fields.putIfAbsent(name, new Field(name, words.length == 1 ? "" : words[1].strip()));
            }
        }
        return List.copyOf(fields.values());
    }

    /** When a subsystem's blocks run; null where it is dissolved into its surroundings. */
    public static String runs(Map<String, String> subsystem) {
        String text = new Settings(SUBSYSTEM, subsystem).given("runs");
        return text.equals(DISSOLVED) ? null : text;
    }

    /** Whether a subsystem has the input {@link #CONTROL}. */
    public static boolean isConditional(Map<String, String> subsystem) {
        String runs = runs(subsystem);
        return runs != null && !runs.equals(AS_ONE);
    }

    /** Whether states within restart when the subsystem is switched on. */
    public static boolean restarts(Map<String, String> subsystem) {
        return new Settings(SUBSYSTEM, subsystem).given("when switched on").equals("restart");
    }
}
