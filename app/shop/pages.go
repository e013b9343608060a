package shop

import (
	"fmt"
	"sync"

	"golang.org/x/sync/singleflight"

	"grapnel/app/record"
)

// PageStamp names a page of a job: what has changed of the job, of what all jobs rest on,
// and the day it is judged.
type PageStamp struct {
	JobID ID
	Stamps
	Day string
}

// pageCache keeps the pages of jobs as they were gathered last: with many screens open on
// a job, one change has all of them ask for the same page. A page holds for as long as
// its stamp does; the counts in it are raised in the transaction of every change, so that
// a page is never older than what has been committed.
type pageCache struct {
	gathering singleflight.Group
	mu        sync.Mutex
	pages     map[ID]cachedPage
}

type cachedPage struct {
	page  record.JobPage
	stamp PageStamp
}

// mostPages bounds how many pages are kept.
const mostPages = 128

// page is the page of a stamp: the kept one, or one that is gathered now, once for all
// who ask meanwhile.
func (c *pageCache) page(stamp PageStamp, gather func() (record.JobPage, error)) (record.JobPage, error) {
	c.mu.Lock()
	kept, ok := c.pages[stamp.JobID]
	c.mu.Unlock()
	if ok && kept.stamp == stamp {
		return kept.page, nil
	}
	page, err, _ := c.gathering.Do(fmt.Sprint(stamp), func() (any, error) {
		page, err := gather()
		if err == nil {
			c.keep(stamp, page)
		}
		return page, err
	})
	if err != nil {
		return record.JobPage{}, err
	}
	return page.(record.JobPage), nil
}

func (c *pageCache) keep(stamp PageStamp, page record.JobPage) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.pages == nil || len(c.pages) >= mostPages {
		c.pages = map[ID]cachedPage{}
	}
	c.pages[stamp.JobID] = cachedPage{page, stamp}
}
