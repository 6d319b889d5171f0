package smtp

import (
	"strings"
	"testing"

	"dorvet/core/letter"
)

// Source: RFC 3464, appendix E.1, a simple notification (from memory, shortened), and E.2 with several recipients.
func TestADeliveryReportIsRead(t *testing.T) {
	simple := strings.ReplaceAll(`Date: Thu, 7 Jul 1994 17:16:05 -0400
From: Mail Delivery Subsystem <MAILER-DAEMON@CS.UTK.EDU>
To: <owner-info-mime@cs.utk.edu>
MIME-Version: 1.0
Content-Type: multipart/report; report-type=delivery-status;
      boundary="JAA13167.773673707/CS.UTK.EDU"
Subject: Returned mail: Cannot send message for 5 days

--JAA13167.773673707/CS.UTK.EDU

The original message was received at Sat, 2 Jul 1994 17:10:28 -0400

   ----- The following addresses had delivery problems -----
<louisl@larry.slip.umd.edu>  (unrecoverable error)

--JAA13167.773673707/CS.UTK.EDU
content-type: message/delivery-status

Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;louisl@larry.slip.umd.edu
Final-Recipient: rfc822;louisl@larry.slip.umd.edu
Action: failed
Status: 4.0.0
Diagnostic-Code: smtp; 426 connection timed out
Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400

Final-Recipient: rfc822; other@umd.edu
Action: DELIVERED
Status: 2.0.0

--JAA13167.773673707/CS.UTK.EDU
content-type: message/rfc822

Subject: the original
--JAA13167.773673707/CS.UTK.EDU--
`, "\n", "\r\n")
	reports, err := ReadReport([]byte(simple))
	if err != nil || len(reports) != 2 {
		t.Fatalf("%+v, %v", reports, err)
	}
	if want := (letter.Report{Recipient: "louisl@larry.slip.umd.edu", Action: letter.Failed, Status: "4.0.0",
		Said: "426 connection timed out"}); reports[0] != want {
		t.Errorf("%+v", reports[0])
	}
	if reports[1].Action != letter.Delivered || reports[1].Recipient != "other@umd.edu" {
		t.Errorf("%+v", reports[1])
	}
	for name, spoil := range map[string][2]string{"another kind of report": {"delivery-status;", "disposition-notification;"},
		"no status": {"message/delivery-status", "text/plain"}, "no mail": {"Date:", "\r\n\r\nDate:"}} {
		if reports, err := ReadReport([]byte(strings.Replace(simple, spoil[0], spoil[1], 1))); err == nil {
			t.Errorf("%s is read as %+v", name, reports)
		}
	}
}

func TestTheKeyIsInTheAddressOfReports(t *testing.T) {
	if to := returnTo("reports@firm.example", "k7"); to != "reports+k7@firm.example" || keyIn("<Reports+K7@firm.example>") != "k7" {
		t.Error(to, keyIn("<Reports+K7@firm.example>"))
	}
	if keyIn("reports@firm.example") != "" || keyIn("") != "" {
		t.Error("an address without a key has one")
	}
}
