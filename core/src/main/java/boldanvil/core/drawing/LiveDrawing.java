package boldanvil.core.drawing;

import boldanvil.core.diagram.BenchLayout.Binding;
import boldanvil.core.diagram.BenchLayout.Drawing;
import boldanvil.core.files.SafeFile;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.io.StringReader;
import java.io.StringWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.ToDoubleFunction;
import java.util.regex.Pattern;
import javax.xml.XMLConstants;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import javax.xml.transform.OutputKeys;
import javax.xml.transform.TransformerException;
import javax.xml.transform.TransformerFactory;
import javax.xml.transform.dom.DOMSource;
import javax.xml.transform.stream.StreamResult;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.Node;
import org.xml.sax.InputSource;
import org.xml.sax.SAXException;

/** An SVG drawing (W3C SVG 1.1) whose elements follow signals. Not safe for several threads. */
public final class LiveDrawing {
    private static final long MAX_BYTES = 4 << 20;
    private static final int MAX_ELEMENTS = 50_000;
    private static final int MAX_DEPTH = 200;
    /** Least length of a pattern of dashes, in units of the drawing. */
    private static final double SHORTEST_DASHES = 0.5;
    /** Farthest coordinate, in units of the drawing. */
    private static final double FARTHEST = 1e5;
    private static final Pattern NUMBER = Pattern.compile("[-+]?(?:[0-9]{1,30}(?:\\.[0-9]{0,30})?|\\.[0-9]{1,30})(?:[eE][-+]?[0-9]{1,4})?");
    private static final Set<String> GEOMETRY = Set.of("x", "y", "x1", "y1", "x2", "y2", "cx", "cy", "r", "rx", "ry", "width", "height",
            "d", "points", "transform", "dx", "dy",
            "stroke-width", "font-size");

    private final Document document;
    private final List<Bound> bound = new ArrayList<>();
    private final List<Finding> findings = new ArrayList<>();

    /** An element with a binding, and how it was before. */
    private record Bound(Binding binding, Element element, Map<String, String> before) {}

    private LiveDrawing(Document document) {
        this.document = document;
    }

    /**
     * Reads a drawing.
     *
     * @param folder the project's folder; the file must lie in it
     * @throws FindingException when the file is missing, too large or no SVG
     */
    public static LiveDrawing read(Path folder, Drawing drawing) {
        Path file = SafeFile.within(folder, drawing.file());
        return of(SafeFile.text(folder, file, MAX_BYTES), file.toString(), drawing.bindings());
    }

    /** @param place how findings name it */
    static LiveDrawing of(String svg, String place, List<Binding> bindings) {
        try {
            var factory = DocumentBuilderFactory.newInstance();
            factory.setFeature(XMLConstants.FEATURE_SECURE_PROCESSING, true);
            factory.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
            factory.setFeature("http://xml.org/sax/features/external-general-entities", false);
            factory.setFeature("http://xml.org/sax/features/external-parameter-entities", false);
            factory.setXIncludeAware(false);
            factory.setExpandEntityReferences(false);
            factory.setNamespaceAware(true);
            var builder = factory.newDocumentBuilder();
            builder.setErrorHandler(null);
            var drawing = new LiveDrawing(builder.parse(new InputSource(new StringReader(svg))));
            drawing.prepare(place, bindings);
            return drawing;
        } catch (SAXException e) {
            String why = String.valueOf(e.getMessage());
            if (why.contains("JAXP0001")) {
                throw tooMuch(place);
            }
            throw FindingException.of(place, why.contains("DOCTYPE") ? "The drawing has a DOCTYPE; those can reach outside the file."
                    : "The drawing is no SVG: " + why.lines().findFirst().orElse("") + ".",
                    "Export it as plain SVG.");
        } catch (IOException | ParserConfigurationException e) {
            throw FindingException.of(place, "The drawing cannot be read: " + e.getMessage() + ".", "Export it as plain SVG.");
        }
    }

    private void prepare(String place, List<Binding> bindings) {
        Element root = document.getDocumentElement();
        if (!"svg".equals(root.getLocalName())) {
            throw FindingException.of(place, "The file is XML, but no SVG: its root is '" + root.getTagName() + "'.",
                    "Export it as plain SVG.");
        }
        Map<String, Element> byId = new HashMap<>();
        clean(root, byId, 0, new int[1], place);
        for (Binding b : bindings) {
            Element e = byId.get(b.element());
            if (e == null) {
                findings.add(Finding.warning(place, "The drawing has no element '" + b.element() + "'.",
                        "Give an element that id, or correct the binding."));
                continue;
            }
            Map<String, String> before = new HashMap<>();
            for (String a : List.of("transform", "y", "height", "fill")) {
                before.put(a, e.getAttribute(a));
            }
            bound.add(new Bound(b, e, before));
        }
    }

    private static FindingException tooMuch(String place) {
        return FindingException.of(place, "The drawing has too many elements, or they lie too deep in each other.", "Simplify it.");
    }

    /** Takes out scripts and whatever points outside the file. */
    private static void clean(Element e, Map<String, Element> byId, int depth, int[] count, String place) {
        if (depth > MAX_DEPTH || ++count[0] > MAX_ELEMENTS) {
            throw tooMuch(place);
        }
        if (!e.getAttribute("id").isEmpty()) {
            byId.putIfAbsent(e.getAttribute("id"), e);
        }
        harmless(e);
        var attributes = e.getAttributes();
        for (int i = attributes.getLength() - 1; i >= 0; i--) {
            Node a = attributes.item(i);
            boolean reference = a.getNodeName().equals("href") || a.getNodeName().endsWith(":href");
            if (a.getNodeName().startsWith("on") || reference && !a.getNodeValue().startsWith("#")) {
                e.removeAttribute(a.getNodeName());
            }
        }
        Node next;
        for (Node n = e.getFirstChild(); n != null; n = next) {
            next = n.getNextSibling();
            if (n instanceof Element child) {
                if (List.of("script", "foreignObject", "image").contains(child.getLocalName())) {
                    e.removeChild(child);
                } else {
                    clean(child, byId, depth + 1, count, place);
                }
            }
        }
    }

    /**
     * Takes out dashes that are far shorter than what they divide: a painter would draw millions of them. Coordinates are bounded as well,
     * so that ordinary dashes stay few.
     */
    private static void harmless(Element e) {
        e.removeAttribute("pathLength");
        for (String a : List.of("stroke-dasharray", "style")) {
            String value = e.getAttribute(a);
            int at = a.equals("style") ? value.indexOf("stroke-dasharray") : 0;
            if (!value.isEmpty() && at >= 0 && isTooFine(value.substring(at))) {
                e.removeAttribute(a);
            }
        }
        if (e.getLocalName().equals("style")) {
            e.setTextContent(e.getTextContent().replaceAll("stroke-dash[a-z]{1,20}", "x-dash"));
        }
        var attributes = e.getAttributes();
        for (int i = attributes.getLength() - 1; i >= 0; i--) {
            Node a = attributes.item(i);
            if (GEOMETRY.contains(a.getNodeName()) && isTooFar(a.getNodeValue())) {
                e.removeAttribute(a.getNodeName());
            }
        }
    }

    private static boolean isTooFine(String dashes) {
        double sum = 0;
        int n = 0;
        var m = NUMBER.matcher(dashes.length() > 400 ? dashes.substring(0, 400) : dashes);
        while (m.find() && n++ < 32) {
            sum += Math.abs(Double.parseDouble(m.group()));
        }
        return n > 0 && !(sum >= SHORTEST_DASHES);
    }

    private static boolean isTooFar(String numbers) {
        var m = NUMBER.matcher(numbers);
        while (m.find()) {
            if (!(Math.abs(Double.parseDouble(m.group())) <= FARTHEST)) {
                return true;
            }
        }
        return false;
    }

    /** What does not fit between the drawing and its bindings. */
    public List<Finding> findings() {
        return List.copyOf(findings);
    }

    /**
     * The drawing at given values.
     *
     * @param values the newest value of a tap, SI; NaN for none, which leaves its elements as they are
     */
    public String at(ToDoubleFunction<String> values) {
        // Several bindings of one element add up, each from how it was drawn.
        for (Bound b : bound) {
            b.element().setAttribute("transform", b.before().get("transform"));
            b.element().removeAttribute("display");
        }
        for (Bound b : bound) {
            double v = values.applyAsDouble(b.binding().tap());
            if (!Double.isNaN(v)) {
                apply(b, v);
            }
        }
        try {
            var out = new StringWriter();
            var transformer = TransformerFactory.newInstance().newTransformer();
            transformer.setOutputProperty(OutputKeys.OMIT_XML_DECLARATION, "yes");
            transformer.transform(new DOMSource(document), new StreamResult(out));
            return out.toString();
        } catch (TransformerException e) {
            throw new IllegalStateException(e);
        }
    }

    private static void apply(Bound bound, double v) {
        Binding b = bound.binding();
        Element e = bound.element();
        double share = b.high() == b.low() ? v >= b.high() ? 1 : 0 : Math.clamp((v - b.low()) / (b.high() - b.low()), 0, 1);
        switch (b.effect()) {
            case MOVE_X -> transform(e, "translate(" + between(b, share) + " 0)");
            case MOVE_Y -> transform(e, "translate(0 " + between(b, share) + ")");
            case TURN -> transform(e, "rotate(" + between(b, share) + " " + pivot(e) + ")");
            case LEVEL -> {
                double y = number(bound.before().get("y"), 0);
                double height = number(bound.before().get("height"), 0);
                double part = number(b.from(), 0) + share * (number(b.to(), 1) - number(b.from(), 0));
                e.setAttribute("y", Double.toString(y + height * (1 - part)));
                e.setAttribute("height", Double.toString(Math.max(0, height * part)));
            }
            case COLOUR -> e.setAttribute("fill", colour(b.from(), b.to(), share));
            case VISIBLE -> e.setAttribute("display", share >= 0.5 ? "inline" : "none");
            case TEXT -> e.setTextContent(text(b.from(), v));
        }
    }

    private static void transform(Element e, String more) {
        e.setAttribute("transform", (e.getAttribute("transform") + " " + more).strip());
    }

    private static double between(Binding b, double share) {
        double from = number(b.from(), 0);
        return from + share * (number(b.to(), 1) - from);
    }

    /** The point an element turns around: its attribute {@code data-pivot}, such as {@code 120 80}. */
    private static String pivot(Element e) {
        String p = e.getAttribute("data-pivot").strip();
        return p.matches("[-+0-9.eE]+[ ,]+[-+0-9.eE]+") ? p : "0 0";
    }

    private static double number(String text, double otherwise) {
        try {
            return text == null || text.isBlank() ? otherwise : Double.parseDouble(text.strip());
        } catch (NumberFormatException e) {
            return otherwise;
        }
    }

    private static String colour(String from, String to, double share) {
        int a = rgb(from);
        int b = rgb(to);
        int mixed = 0;
        for (int shift = 16; shift >= 0; shift -= 8) {
            int x = a >> shift & 0xFF;
            int y = b >> shift & 0xFF;
            mixed |= (int) Math.round(x + share * (y - x)) << shift;
        }
        return String.format(Locale.ROOT, "#%06X", mixed);
    }

    private static int rgb(String text) {
        return text != null && text.matches("#[0-9a-fA-F]{6}") ? Integer.parseInt(text.substring(1), 16) : 0x808080;
    }

    /** A value in words, by a pattern such as {@code %.2f m}. */
    private static String text(String pattern, double v) {
        String p = pattern == null || pattern.isBlank() ? "%.3f" : pattern;
        if (!p.matches("[^%]*%[-+ 0]*\\d{0,2}(\\.\\d{1,2})?[feg][^%]*")) {
            return String.format(Locale.ROOT, "%.3f", v);
        }
        return String.format(Locale.ROOT, p, v);
    }
}
