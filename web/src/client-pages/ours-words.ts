/** What the page says on which somebody finds out whether an invoice is the firm's, in the languages of documents. */
const english = {
  title: "Is this invoice ours?",
  how: "Choose the PDF that you were sent. It stays on your machine: only its fingerprint, which your browser computes, is compared with those of the documents that we issued.",
  file: "The PDF",
  drop: "or drop it here",
  not_ours: "Not ours",
  not_ours_why:
    "“{file}” is no document that {firm} issued, or it was changed since. Do not pay it. Call us under a number that you know, not one that stands in it.",
  replaced: "Ours, but replaced",
  replaced_why:
    "{number} of {day} over {amount} was ours, and does not hold any more. Do not pay this one: pay what took its place, or ask us.",
  ours: "Ours, as we issued it",
  ours_what: "{number} of {day} over {amount}.",
  open: "Something is still to be paid on it.",
  payee: "To {payee}, {account}.",
  closed: "Nothing is to be paid on it any more.",
};

export type OursWords = typeof english;

const others: Record<string, OursWords> = {
  de: {
    title: "Ist diese Rechnung von uns?",
    how: "Wählen Sie das PDF, das Sie bekommen haben. Es bleibt auf Ihrem Gerät: Nur sein Fingerabdruck, den Ihr Browser berechnet, wird mit denen unserer Dokumente verglichen.",
    file: "Das PDF",
    drop: "oder hier ablegen",
    not_ours: "Nicht von uns",
    not_ours_why:
      "„{file}“ ist kein Dokument, das {firm} ausgestellt hat, oder es wurde seither verändert. Zahlen Sie nicht. Rufen Sie uns unter einer Nummer an, die Sie kennen, nicht unter einer, die darin steht.",
    replaced: "Von uns, aber ersetzt",
    replaced_why:
      "{number} vom {day} über {amount} war von uns und gilt nicht mehr. Zahlen Sie diese nicht: Zahlen Sie, was an ihre Stelle trat, oder fragen Sie uns.",
    ours: "Von uns, so wie ausgestellt",
    ours_what: "{number} vom {day} über {amount}.",
    open: "Es ist noch etwas zu zahlen.",
    payee: "An {payee}, {account}.",
    closed: "Es ist nichts mehr zu zahlen.",
  },
  fr: {
    title: "Cette facture vient-elle de nous ?",
    how: "Choisissez le PDF que vous avez reçu. Il reste sur votre appareil : seule son empreinte, calculée par votre navigateur, est comparée à celles des documents que nous avons émis.",
    file: "Le PDF",
    drop: "ou déposez-le ici",
    not_ours: "Pas de nous",
    not_ours_why:
      "« {file} » n’est pas un document émis par {firm}, ou il a été modifié depuis. Ne payez pas. Appelez-nous à un numéro que vous connaissez, et non à un numéro qui y figure.",
    replaced: "De nous, mais remplacée",
    replaced_why:
      "{number} du {day} d’un montant de {amount} venait de nous et n’est plus valable. Ne la payez pas : payez celle qui l’a remplacée, ou demandez-nous.",
    ours: "De nous, telle qu’émise",
    ours_what: "{number} du {day} d’un montant de {amount}.",
    open: "Il reste quelque chose à payer.",
    payee: "À {payee}, {account}.",
    closed: "Il n’y a plus rien à payer.",
  },
  es: {
    title: "¿Es nuestra esta factura?",
    how: "Elija el PDF que ha recibido. Se queda en su equipo: solo su huella, que calcula su navegador, se compara con las de los documentos que emitimos.",
    file: "El PDF",
    drop: "o suéltelo aquí",
    not_ours: "No es nuestra",
    not_ours_why:
      "«{file}» no es un documento emitido por {firm}, o se ha cambiado desde entonces. No lo pague. Llámenos a un número que conozca, no a uno que figure en él.",
    replaced: "Nuestra, pero sustituida",
    replaced_why:
      "{number} de {day} por {amount} era nuestra y ya no es válida. No la pague: pague la que la sustituyó, o pregúntenos.",
    ours: "Nuestra, tal como la emitimos",
    ours_what: "{number} de {day} por {amount}.",
    open: "Queda algo por pagar.",
    payee: "A {payee}, {account}.",
    closed: "Ya no queda nada por pagar.",
  },
  pl: {
    title: "Czy ta faktura jest od nas?",
    how: "Proszę wybrać otrzymany plik PDF. Pozostaje on na Państwa urządzeniu: tylko jego skrót, który oblicza przeglądarka, porównujemy ze skrótami wystawionych przez nas dokumentów.",
    file: "Plik PDF",
    drop: "lub proszę upuścić go tutaj",
    not_ours: "Nie od nas",
    not_ours_why:
      "„{file}” nie jest dokumentem wystawionym przez {firm} albo został później zmieniony. Proszę go nie opłacać. Proszę zadzwonić do nas pod znany Państwu numer, a nie pod podany w pliku.",
    replaced: "Od nas, ale zastąpiona",
    replaced_why:
      "{number} z {day} na kwotę {amount} była od nas i już nie obowiązuje. Proszę jej nie opłacać: proszę opłacić tę, która ją zastąpiła, lub nas zapytać.",
    ours: "Od nas, tak jak wystawiona",
    ours_what: "{number} z {day} na kwotę {amount}.",
    open: "Pozostało coś do zapłaty.",
    payee: "Na rzecz {payee}, {account}.",
    closed: "Nie ma już nic do zapłaty.",
  },
  el: {
    title: "Είναι δικό μας αυτό το τιμολόγιο;",
    how: "Επιλέξτε το PDF που λάβατε. Μένει στη συσκευή σας: μόνο το αποτύπωμά του, που υπολογίζει ο φυλλομετρητής σας, συγκρίνεται με εκείνα των εγγράφων που εκδώσαμε.",
    file: "Το PDF",
    drop: "ή αφήστε το εδώ",
    not_ours: "Δεν είναι δικό μας",
    not_ours_why:
      "Το «{file}» δεν είναι έγγραφο που εξέδωσε η {firm}, ή άλλαξε από τότε. Μην το πληρώσετε. Καλέστε μας σε αριθμό που γνωρίζετε, όχι σε αυτόν που γράφει μέσα.",
    replaced: "Δικό μας, αλλά αντικαταστάθηκε",
    replaced_why:
      "Το {number} της {day} για {amount} ήταν δικό μας και δεν ισχύει πια. Μην το πληρώσετε: πληρώστε αυτό που το αντικατέστησε ή ρωτήστε μας.",
    ours: "Δικό μας, όπως το εκδώσαμε",
    ours_what: "{number} της {day} για {amount}.",
    open: "Απομένει κάτι για πληρωμή.",
    payee: "Προς {payee}, {account}.",
    closed: "Δεν απομένει τίποτα για πληρωμή.",
  },
};

/** The words of a language, or English ones. */
export const oursWords = (language: string): OursWords => others[language] ?? english;

/** A sentence with what stands in its places. */
export const filled = (text: string, values: Record<string, string>) =>
  text.replace(/\{(\w+)\}/g, (_, name: string) => values[name] ?? "");
