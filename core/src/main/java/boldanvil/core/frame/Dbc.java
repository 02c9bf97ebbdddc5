package boldanvil.core.frame;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.TreeSet;
import java.util.regex.Pattern;

/** Reads and writes messages and signals in the text form of DBC files; what else such files hold is passed over. */
public final class Dbc {
    private static final int MOST_CHARACTERS = 4_000_000;
    /** The node that stands for whoever it may be. */
    private static final String ANYBODY = "Anybody";
    private static final long EXTENDED = 1L << 31;
    private static final Pattern MESSAGE = Pattern.compile("^BO_\\s++(\\d++)\\s++(\\w++)\\s*+:\\s*+(\\d++)\\s*+(\\w*+).*+$");
    private static final Pattern SIGNAL = Pattern.compile("^\\s*+SG_\\s++(\\w++)\\s*+(M|m\\d++M?)?\\s*+:"
            + "\\s*+(\\d++)\\|(\\d++)@([01])([+-])\\s*+\\(([^,]++),([^)]++)\\)\\s*+\\[([^|]*+)\\|([^\\]]*+)\\]\\s*+\"([^\"]*+)\".*+$");

    private Dbc() {}

    /**
     * The messages of a text.
     *
     * @throws FrameException with the line, when one cannot be read
     */
    public static List<CanMessage> read(String text) {
        if (text.length() > MOST_CHARACTERS) {
            throw new FrameException("The text has " + text.length() + " characters; " + MOST_CHARACTERS + " are read at most.",
                    "Remove the messages that are not needed.");
        }
        List<CanMessage> messages = new ArrayList<>();
        String[] lines = text.split("\r?\n", -1);
        for (int i = 0; i < lines.length; i++) {
            if (lines[i].startsWith("BO_ ")) {
                var m = MESSAGE.matcher(lines[i]);
                if (!m.matches()) {
                    throw wrong(i, "is not a message");
                }
                int line = i;
                List<CanMessage.Signal> signals = new ArrayList<>();
                while (i + 1 < lines.length && lines[i + 1].strip().startsWith("SG_")) {
                    i++;
                    signals.add(signal(lines[i], i));
                }
                messages.add(message(m.group(1), m.group(2), m.group(3), m.group(4), signals, line));
            }
        }
        return messages;
    }

    private static CanMessage message(String id, String name, String bytes, String sender, List<CanMessage.Signal> signals, int line) {
        try {
            long number = Long.parseLong(id);
            return new CanMessage(number & ~EXTENDED, (number & EXTENDED) != 0, name, Integer.parseInt(bytes), sender, signals);
        } catch (NumberFormatException e) {
            throw wrong(line, "contains a number that is too large");
        } catch (FrameException e) {
            throw new FrameException("Line " + (line + 1) + ": " + e.getMessage(), e.cure());
        }
    }

    private static CanMessage.Signal signal(String line, int number) {
        var s = SIGNAL.matcher(line);
        if (!s.matches()) {
            throw wrong(number, "is not a signal");
        }
        if (s.group(2) != null) {
            throw wrong(number, "is a multiplexed signal, which is not supported");
        }
        try {
            return new CanMessage.Signal(s.group(1), Integer.parseInt(s.group(3)), Integer.parseInt(s.group(4)), s.group(5).equals("0"),
                    s.group(6).equals("-"), number(s.group(7)),
                    number(s.group(8)), number(s.group(9)), number(s.group(10)), s.group(11));
        } catch (NumberFormatException e) {
            throw wrong(number, "contains something that is not a number");
        }
    }

    private static double number(String text) {
        return text.isBlank() ? 0 : Double.parseDouble(text.strip());
    }

    private static FrameException wrong(int line, String what) {
        return new FrameException("Line " + (line + 1) + " " + what + ".",
                "Correct it; a message reads BO_ 291 name: 8 sender, a signal SG_ name : 0|16@1+ (0.1,0) [0|100] \"unit\" receiver.");
    }

    /** The message with a name; of an empty name the first. */
    public static CanMessage find(String text, String name) {
        var all = read(text);
        return all.stream().filter(m -> name.isEmpty() || m.name().equals(name)).findFirst().orElseThrow(() -> new FrameException(
                all.isEmpty() ? "The text contains no message." : "There is no message '" + name + "'.",
                "Messages are: " + String.join(", ", all.stream().map(CanMessage::name).toList()) + "."));
    }

    /** Messages as a file. */
    public static String write(List<CanMessage> messages) {
        var nodes = new TreeSet<String>();
        nodes.add(ANYBODY);
        messages.stream().filter(m -> !m.sender().isEmpty()).forEach(m -> nodes.add(m.sender()));
        var t = new StringBuilder("VERSION \"\"\n\nNS_ :\n\nBS_:\n\nBU_: " + String.join(" ", nodes) + "\n\n");
        for (CanMessage m : messages) {
            t.append("BO_ ").append(m.id() | (m.extended() ? EXTENDED : 0)).append(' ').append(m.name()).append(": ").append(m.bytes())
                    .append(' ')
                    .append(m.sender().isEmpty() ? ANYBODY : m.sender()).append('\n');
            for (CanMessage.Signal s : m.signals()) {
                t.append(String.format(Locale.ROOT, " SG_ %s : %d|%d@%d%s (%s,%s) [%s|%s] \"%s\" %s%n", s.name(), s.start(), s.length(),
                        s.bigEndian() ? 0 : 1,
                        s.signed() ? "-" : "+", text(s.factor()), text(s.offset()), text(s.minimum()), text(s.maximum()), s.unit(),
                        ANYBODY));
            }
            t.append('\n');
        }
        return t.toString();
    }

    private static String text(double v) {
        return v == Math.rint(v) && Math.abs(v) < 1e15 ? Long.toString((long) v) : Double.toString(v);
    }
}
