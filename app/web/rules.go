package web

import (
	"context"

	"axtren/app/contract"
	"axtren/core/behave"
	"axtren/core/edit"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
)

// GetRules tells what switches do, as sentences, and the kinds of sentence that can be written.
func (m *models) GetRules(ctx context.Context,
	r contract.GetRulesRequestObject) (contract.GetRulesResponseObject, error) {
	head, p, err := m.playable(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return contract.GetRules200JSONResponse{Revision: head.Number, Rules: behave.Read(head.Doc.Setup, p),
		Kinds: behave.Kinds(head.Doc.Setup, p), Lists: behave.Lists(head.Doc.Setup),
		Boxes: behave.Boxes(head.Doc), Usual: proposed(head.Doc, p)}, nil
}

// proposed gives what is usual to claim and is not claimed yet, each with the edit that would add it.
func proposed(doc *setup.Document, p *signal.Program) []contract.ClaimProposed {
	list := []contract.ClaimProposed{}
	for _, one := range proof.Propose(p) {
		path, value := "/claims/-", one.Claim
		if doc.Tree.Get("claims") == nil {
			path, value = "/claims", setup.NodeOf([]any{one.Claim})
		}
		patch := setup.NodeOf([]any{setup.GroupNode("op", "add", "path", path, "value", value)})
		list = append(list, contract.ClaimProposed{Label: one.Label, Patch: patch.JSON()})
	}
	return list
}

// SayRule says a rule before it is written.
func (m *models) SayRule(ctx context.Context,
	r contract.SayRuleRequestObject) (contract.SayRuleResponseObject, error) {
	head, p, err := m.playable(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	said, err := behave.Say(head.Doc, p, *r.Body)
	if err != nil {
		return nil, err
	}
	return contract.SayRule200JSONResponse(said), nil
}

// ruled writes a rule, or takes one out.
func ruled(doc *setup.Document, a *contract.Act, key string) (tree *setup.Node, added, said string,
	err error) {
	p, err := edit.Playable(doc)
	if err != nil {
		return nil, "", "", err
	}
	if a.Act == contract.Unrule {
		tree, said, err = behave.Remove(doc, p, key, a.Along != nil && *a.Along)
		return tree, "", said, err
	}
	if a.Rule == nil {
		return nil, "", "", setup.Refused("rule", "", "is missing", "say what the rule is to do")
	}
	tree, added, said, err = behave.Write(doc, p, *a.Rule)
	return tree, added, said, err
}
