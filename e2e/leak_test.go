package e2e

import (
	"context"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/heapprofiler"
	"github.com/chromedp/cdproto/memory"
	"github.com/chromedp/chromedp"
)

// held are the nodes of documents that the browser holds once what nobody needs is gone.
func (p *page) held() (nodes int64) {
	p.Helper()
	p.still()
	p.do(chromedp.Func(func(ctx context.Context, target *chromedp.Target) error {
		for range 3 { // what is held by what is gone goes with the next
			if _, err := cdp.Call(ctx, target, heapprofiler.CollectGarbage, cdp.Empty{}); err != nil {
				return err
			}
		}
		counted, err := cdp.Call(ctx, target, memory.GetDOMCounters, cdp.Empty{})
		nodes = counted.Nodes
		return err
	}))
	return nodes
}

// Who works all day changes desks hundreds of times: what a desk had in the page is let go with it.
func TestDesksLeaveNothingBehind(t *testing.T) {
	p := look(t)
	p.signIn("administrator")
	desks := []struct{ link, reads string }{{"Clients", "Clients"}, {"Reports", "Reports"}, {"Set-up", "Set-up"}}
	round := func() {
		for stage, reads := range map[string]string{"1": "Proposals", "2": "Week", "3": "What can be billed", "4": "Drafts to review", "5": "What is owed"} {
			p.alt(stage)
			p.reads(reads)
		}
		for _, d := range desks {
			p.click("link", d.link)
			p.until("document.querySelector('h1')?.innerText.startsWith(%v)", d.reads)
		}
	}
	round()
	before := p.held()
	for range 3 {
		round()
	}
	if after := p.held(); after > before+before/5 {
		t.Errorf("%d nodes became %d", before, after)
	}
}
