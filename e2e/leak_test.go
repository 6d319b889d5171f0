package e2e

import (
	"context"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/heapprofiler"
	"github.com/chromedp/cdproto/memory"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
)

// held are the nodes of documents, and the bytes of the script's heap, that the browser holds once what nobody needs is
// gone.
func (p *page) held() (nodes int64, heap float64) {
	p.Helper()
	p.still()
	p.do(chromedp.Func(func(ctx context.Context, target *chromedp.Target) error {
		for range 3 { // what is held by what is gone goes with the next
			if _, err := cdp.Call(ctx, target, heapprofiler.CollectGarbage, cdp.Empty{}); err != nil {
				return err
			}
		}
		counted, err := cdp.Call(ctx, target, memory.GetDOMCounters, cdp.Empty{})
		if err != nil {
			return err
		}
		used, err := cdp.Call(ctx, target, runtime.GetHeapUsage, cdp.Empty{})
		nodes, heap = counted.Nodes, used.UsedSize
		return err
	}))
	return nodes, heap
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
	round()
	nodes, heap := p.held()
	for range 3 {
		round()
	}
	after, now := p.held()
	t.Logf("%d nodes became %d, %.1f MB %.1f", nodes, after, heap/1e6, now/1e6)
	if after > nodes+nodes/5 || now > heap*1.2 {
		t.Errorf("%d nodes became %d, %.1f MB %.1f", nodes, after, heap/1e6, now/1e6)
	}
}
