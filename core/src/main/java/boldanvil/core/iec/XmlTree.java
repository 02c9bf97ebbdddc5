package boldanvil.core.iec;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import java.io.StringReader;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;

/**
 * An element of an XML file, read within limits: no document type, no entities of its own, a depth and a number of elements at most.
 *
 * @param name without its namespace
 * @param text what is written in it, elements left out
 */
record XmlTree(String name, Map<String, String> attributes, List<XmlTree> children, StringBuilder text) {
    private static final int LONGEST = 32 * 1024 * 1024;
    private static final int DEEPEST = 100;
    private static final int MOST = 1_000_000;

    /**
     * Reads a file's text.
     *
     * @param place how findings name it
     * @throws FindingException when it is not XML, or beyond the limits
     */
    static XmlTree read(String xml, Place place) {
        if (xml.length() > LONGEST) {
            throw FindingException.of(place, "The file is larger than " + LONGEST / 1024 / 1024 + " MiB.", "Export fewer units at a time.");
        }
        var factory = XMLInputFactory.newFactory();
        factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
        factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        factory.setProperty(XMLInputFactory.IS_REPLACING_ENTITY_REFERENCES, true);
        Deque<XmlTree> open = new ArrayDeque<>();
        XmlTree root = null;
        int count = 0;
        try {
            XMLStreamReader in = factory.createXMLStreamReader(new StringReader(xml));
            while (in.hasNext()) {
                switch (in.next()) {
                    case XMLStreamConstants.START_ELEMENT -> {
                        var e = element(in);
                        if (open.size() >= DEEPEST || ++count > MOST) {
                            throw FindingException.of(place, "The file has elements deeper than " + DEEPEST + ", or more than " + MOST
                                    + ".",
                                    "Export fewer units at a time.");
                        }
                        if (open.isEmpty()) {
                            root = e;
                        } else {
                            open.peek().children().add(e);
                        }
                        open.push(e);
                    }
                    case XMLStreamConstants.END_ELEMENT -> open.pop();
                    case XMLStreamConstants.CHARACTERS, XMLStreamConstants.CDATA -> open.peek().text().append(in.getText());
                    case XMLStreamConstants.DTD, XMLStreamConstants.ENTITY_REFERENCE -> throw FindingException.of(place,
                            "The file declares a document type or entities.", "Remove them; exchange files need none.");
                    default -> { }
                }
            }
        } catch (XMLStreamException e) {
            throw FindingException.of(place, "The file is not XML, or exceeds a limit, in line " + e.getLocation().getLineNumber() + ".",
                    "Export it again, in smaller pieces where it is large.");
        }
        return root;
    }

    private static XmlTree element(XMLStreamReader in) {
        Map<String, String> attributes = new LinkedHashMap<>();
        for (int i = 0; i < in.getAttributeCount(); i++) {
            attributes.put(in.getAttributeLocalName(i), in.getAttributeValue(i));
        }
        return new XmlTree(in.getLocalName(), attributes, new ArrayList<>(), new StringBuilder());
    }

    /** The first child with a name. */
    Optional<XmlTree> child(String wanted) {
        return children.stream().filter(c -> c.name.equals(wanted)).findFirst();
    }

    /** All children with a name. */
    List<XmlTree> all(String wanted) {
        return children.stream().filter(c -> c.name.equals(wanted)).toList();
    }

    /** Follows children by their names. */
    Optional<XmlTree> at(String... path) {
        Optional<XmlTree> e = Optional.of(this);
        for (String p : path) {
            e = e.flatMap(x -> x.child(p));
        }
        return e;
    }

    String attribute(String wanted) {
        return attributes.getOrDefault(wanted, "");
    }

    /** All text in it and below. */
    String whole() {
        var all = new StringBuilder(text);
        children.forEach(c -> all.append(c.whole()));
        return all.toString();
    }
}
