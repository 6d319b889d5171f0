package documents

import (
	"bytes"
	"compress/zlib"
	"crypto/sha256"
	_ "embed"
	"encoding/hex"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"unicode/utf16"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/safetext"
	"dorvet/internal/documents/einvoice"
)

// The colours of a document are those of sRGB, as published by the International
// Color Consortium (colour/LICENSE).
//
//go:embed colour/sRGB2014.icc
var profile []byte

var packedProfile = sync.OnceValue(func() []byte { return packed(profile) })

// archived makes a drawn invoice into PDF/A-3 (ISO 19005-3, conformance B): an
// incremental update (ISO 32000-1, 7.5.6) adds metadata, the meaning of its colours,
// an identity, and the e-invoice as an alternative of what is seen.
func archived(drawn []byte, doc *invoice.Document, printed invoice.Printed) ([]byte, error) {
	data, err := einvoice.Write(doc)
	if unsayable := new(safetext.Unsayable); err != nil && !errors.As(err, &unsayable) {
		return nil, err
	}
	u, err := update(drawn)
	if err != nil {
		return nil, err
	}
	made := about{title: safetext.Line(printed.Title + " " + printed.Number), author: safetext.Line(doc.Issuer.Name), dated: doc.Dated,
		hybrid: data != nil}
	metadata := u.stream("/Type /Metadata /Subtype /XML", made.xmp())
	colours := u.stream("/N 3 /Filter /FlateDecode", packedProfile())
	intent := u.object(fmt.Sprintf("<< /Type /OutputIntent /S /GTS_PDFA1 /OutputConditionIdentifier (sRGB) /Info (sRGB) "+
		"/DestOutputProfile %d 0 R >>", colours))
	catalog := fmt.Sprintf("<< /Type /Catalog /Version /1.7 /Pages 1 0 R /Lang (%s) /Metadata %d 0 R /OutputIntents [%d 0 R] "+
		"/ViewerPreferences << /DisplayDocTitle true >>", doc.Language.Known(), metadata, intent)
	if data != nil {
		file := u.stream(fmt.Sprintf("/Type /EmbeddedFile /Subtype /text#2Fxml /Filter /FlateDecode /Params << /Size %d /ModDate (%s) >>",
			len(data), pdfDate(doc.Dated)), packed(data))
		spec := u.object(fmt.Sprintf("<< /Type /Filespec /F (%s) /UF (%s) /Desc (EN 16931) /AFRelationship /Alternative /EF << /F %d "+
			"0 R /UF %d 0 R >> >>", einvoice.FileName, einvoice.FileName, file, file))
		catalog += fmt.Sprintf(" /AF [%d 0 R] /Names << /EmbeddedFiles << /Names [(%s) %d 0 R] >> >>", spec, einvoice.FileName, spec)
	}
	info := u.object(fmt.Sprintf("<< /Title %s /Author %s /Producer (Dorvet) /CreationDate (%s) /ModDate (%s) >>", pdfText(made.title),
		pdfText(made.author), pdfDate(doc.Dated), pdfDate(doc.Dated)))
	u.replace(u.root, catalog+" >>")
	return u.finished(info), nil
}

// updating is a file with objects that are appended to it.
type updating struct {
	out     bytes.Buffer
	size    int // the number of the next object
	root    int
	before  int // where the table of what is updated stands
	offsets map[int]int
	order   []int
}

var trailer = regexp.MustCompile(`trailer\s*<<\s*/Size (\d+)\s*/Root (\d+) 0 R[^>]*>>\s*startxref\s*(\d+)\s*%%EOF\s*$`)

func update(file []byte) (*updating, error) {
	found := trailer.FindSubmatch(file)
	if found == nil {
		return nil, errors.New("the drawn document does not end as a PDF does")
	}
	u := &updating{offsets: map[int]int{}}
	for i, at := range []*int{&u.size, &u.root, &u.before} {
		*at, _ = strconv.Atoi(string(found[i+1])) // digits, by the pattern
	}
	u.out.Write(file)
	return u, nil
}

func (u *updating) object(content string) int {
	number := u.size
	u.size++
	u.replace(number, content)
	return number
}

func (u *updating) replace(number int, content string) {
	u.offsets[number] = u.out.Len()
	u.order = append(u.order, number)
	fmt.Fprintf(&u.out, "%d 0 obj\n%s\nendobj\n", number, content)
}

func (u *updating) stream(entries string, content []byte) int {
	return u.object(fmt.Sprintf("<< %s /Length %d >>\nstream\n%s\nendstream", entries, len(content), content))
}

// packers are kept: making one clears a megabyte.
var packers = sync.Pool{New: func() any { return zlib.NewWriter(io.Discard) }}

func packed(content []byte) []byte {
	var out bytes.Buffer
	w := packers.Get().(*zlib.Writer)
	defer packers.Put(w)
	w.Reset(&out)
	_, _ = w.Write(content) // to memory
	_ = w.Close()
	return out.Bytes()
}

// finished closes the update. The identity of the file is of what is in it, so that
// the same invoice has the same.
func (u *updating) finished(info int) []byte {
	sum := sha256.Sum256(u.out.Bytes())
	identity := hex.EncodeToString(sum[:16])
	table := u.out.Len()
	fmt.Fprint(&u.out, "xref\n0 1\n0000000000 65535 f \n")
	for _, number := range u.order {
		fmt.Fprintf(&u.out, "%d 1\n%010d 00000 n \n", number, u.offsets[number])
	}
	fmt.Fprintf(&u.out, "trailer\n<< /Size %d /Root %d 0 R /Info %d 0 R /Prev %d /ID [<%s> <%s>] >>\nstartxref\n%d\n%%%%EOF\n", u.size,
		u.root, info, u.before, identity, identity, table)
	return u.out.Bytes()
}

func pdfDate(d day.Day) string { return d.Time().Format("D:20060102150405") + "Z" }

// pdfText is a text string, in UTF-16.
func pdfText(text string) string {
	var b strings.Builder
	b.WriteString("<FEFF")
	for _, unit := range utf16.Encode([]rune(text)) {
		fmt.Fprintf(&b, "%04X", unit)
	}
	b.WriteString(">")
	return b.String()
}

// about is what the metadata says.
type about struct {
	title, author string
	dated         day.Day
	hybrid        bool
}

// xmp is the metadata of ISO 16684-1, with the part of PDF/A and, of a hybrid, the
// schema that says which file inside is the invoice.
func (a about) xmp() []byte {
	escaped := func(text string) string {
		var b bytes.Buffer
		_ = xml.EscapeText(&b, []byte(text)) // to memory
		return b.String()
	}
	instant := a.dated.Time().Format("2006-01-02T15:04:05Z")
	hybrid := ""
	if a.hybrid {
		hybrid = hybridSchema
	}
	return fmt.Appendf(nil, `<?xpacket begin="%s" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:pdfaid="http://www.aiim.org/pdfa/ns/id/"><pdfaid:part>3</pdfaid:part><pdfaid:conformance>B</pdfaid:conformance></rdf:Description>
<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title><rdf:Alt><rdf:li xml:lang="x-default">%s</rdf:li></rdf:Alt></dc:title><dc:creator><rdf:Seq><rdf:li>%s</rdf:li></rdf:Seq></dc:creator></rdf:Description>
<rdf:Description rdf:about="" xmlns:pdf="http://ns.adobe.com/pdf/1.3/"><pdf:Producer>Dorvet</pdf:Producer></rdf:Description>
<rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/"><xmp:CreateDate>%s</xmp:CreateDate><xmp:ModifyDate>%s</xmp:ModifyDate></rdf:Description>
%s</rdf:RDF></x:xmpmeta>
<?xpacket end="w"?>`, "\ufeff", escaped(a.title), escaped(a.author), instant, instant, hybrid)
}

// hybridSchema describes the four properties of the hybrid format, as PDF/A asks for
// every schema that it does not know (ISO 19005-3, 6.6.2.3), and says them.
const hybridSchema = `<rdf:Description rdf:about="" xmlns:pdfaExtension="http://www.aiim.org/pdfa/ns/extension/" xmlns:pdfaSchema="http://www.aiim.org/pdfa/ns/schema#" xmlns:pdfaProperty="http://www.aiim.org/pdfa/ns/property#">
<pdfaExtension:schemas><rdf:Bag><rdf:li rdf:parseType="Resource"><pdfaSchema:schema>Factur-X PDFA Extension Schema</pdfaSchema:schema><pdfaSchema:namespaceURI>urn:factur-x:pdfa:CrossIndustryDocument:invoice:1p0#</pdfaSchema:namespaceURI><pdfaSchema:prefix>fx</pdfaSchema:prefix>
<pdfaSchema:property><rdf:Seq>
<rdf:li rdf:parseType="Resource"><pdfaProperty:name>DocumentFileName</pdfaProperty:name><pdfaProperty:valueType>Text</pdfaProperty:valueType><pdfaProperty:category>external</pdfaProperty:category><pdfaProperty:description>The name of the embedded XML document</pdfaProperty:description></rdf:li>
<rdf:li rdf:parseType="Resource"><pdfaProperty:name>DocumentType</pdfaProperty:name><pdfaProperty:valueType>Text</pdfaProperty:valueType><pdfaProperty:category>external</pdfaProperty:category><pdfaProperty:description>The type of the hybrid document</pdfaProperty:description></rdf:li>
<rdf:li rdf:parseType="Resource"><pdfaProperty:name>Version</pdfaProperty:name><pdfaProperty:valueType>Text</pdfaProperty:valueType><pdfaProperty:category>external</pdfaProperty:category><pdfaProperty:description>The version of the standard</pdfaProperty:description></rdf:li>
<rdf:li rdf:parseType="Resource"><pdfaProperty:name>ConformanceLevel</pdfaProperty:name><pdfaProperty:valueType>Text</pdfaProperty:valueType><pdfaProperty:category>external</pdfaProperty:category><pdfaProperty:description>The profile of the embedded XML document</pdfaProperty:description></rdf:li>
</rdf:Seq></pdfaSchema:property></rdf:li></rdf:Bag></pdfaExtension:schemas></rdf:Description>
<rdf:Description rdf:about="" xmlns:fx="urn:factur-x:pdfa:CrossIndustryDocument:invoice:1p0#"><fx:DocumentType>INVOICE</fx:DocumentType><fx:DocumentFileName>` + einvoice.FileName + `</fx:DocumentFileName><fx:Version>1.0</fx:Version><fx:ConformanceLevel>EN 16931</fx:ConformanceLevel></rdf:Description>
`
